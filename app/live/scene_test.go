package live

import (
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/web/contract"
	"axtren/core/lines"
	"axtren/core/signal"
	"axtren/core/stage"
)

// onBench is a bench without a connection, its first frame stepped.
func onBench(t *testing.T) *bench {
	t.Helper()
	doc := docOf(t)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	b := &bench{box: newInbox(), hands: map[string]any{}, program: p, kept: p, doc: doc}
	b.placeHands()
	b.live = p.PowerOn()
	b.state, b.view, b.scene = b.live, lines.Build(doc, p), newScene(p)
	b.record = newRecording(p, 0, b.now, true)
	b.frame(mail{})
	return b
}

func (b *bench) steps(frames int, m mail) {
	b.frame(m)
	for range frames - 1 {
		b.frame(mail{})
	}
}

func (b *bench) picture() []float64 { return b.read(nil)[len(b.view.Slots):] }

// TestThePictureFollowsTheValues: its numbers stand behind those of the view, move
// with the devices, and go back where they were.
func TestThePictureFollowsTheValues(t *testing.T) {
	b := onBench(t)
	require.Len(t, b.picture(), stage.NumbersFirst+stage.NumbersEach*len(b.scene.picture.Parts))
	b.steps(50, mail{set: map[string]any{"drive": 80.0}})
	require.Greater(t, b.picture()[stage.NumberX], 100.0)
	require.Zero(t, b.picture()[stage.NumberFree])
	b.steps(1, mail{set: map[string]any{"drive": 0.0}, stage: &contract.ToBench{T: contract.ToBenchTStage}})
	require.InDelta(t, 0, b.picture()[stage.NumberX], 12, "put back; it still ran for a frame")
}

// TestThePictureGoesOnOverAnEdit: the model stays where it is.
func TestThePictureGoesOnOverAnEdit(t *testing.T) {
	b := onBench(t)
	b.steps(50, mail{set: map[string]any{"drive": 80.0}})
	at := b.picture()[stage.NumberX]
	p, err := signal.Compile(docOf(t).Setup)
	require.NoError(t, err)
	b.play(b.doc, p)
	require.Equal(t, at, b.picture()[stage.NumberX])
}

// TestWordsComeWhenTheyChange, and only then.
func TestWordsComeWhenTheyChange(t *testing.T) {
	b := onBench(t)
	said := func() *stage.Words {
		for range 2 * wordsEvery {
			if msg, sent := b.words(); msg != nil {
				sent()
				return msg.Words
			}
		}
		return nil
	}
	require.Equal(t, "Stands still.", said().Head)
	require.Nil(t, said())
	b.steps(10, mail{set: map[string]any{"drive": 80.0, "turn": -40.0}})
	require.Equal(t, "Ahead, bearing to port.", said().Head)
	require.Nil(t, said())
}

// TestADrillRunsBesideTheBench, and each of its stances plays as a script.
func TestADrillRunsBesideTheBench(t *testing.T) {
	b := onBench(t)
	kind := contract.ToBenchDrill("switch_on")
	b.frame(mail{set: map[string]any{"drive": 50.0}, stage: &contract.ToBench{T: contract.ToBenchTStage, Drill: &kind}})
	require.Eventually(t, func() bool {
		b.frame(b.box.take())
		return b.drilled != nil
	}, 10*time.Second, time.Millisecond)
	drill := b.drilled.Drill
	require.Equal(t, "switch_on", drill.Kind)
	require.True(t, drill.Whole)
	require.NotEmpty(t, drill.Lines)
	b.frame(mail{play: &playWish{id: "drill/switch_on/" + drill.Lines[0].Play}})
	require.NotNil(t, b.player)
	require.Empty(t, b.player.why)
	require.Same(t, b.player.state, b.state, "it is shown")
	for range 20 {
		b.frame(mail{})
	}
	require.Zero(t, b.state.At(b.program.SendingSlot()), "the set is still off in it")
	b.frame(mail{set: map[string]any{"turn": 10.0}})
	require.Nil(t, b.player, "a hand takes over")
	for _, bad := range []string{"drill/switch_on/99999", "drill/nothing/0", "drill/switch_on", "drill/switch_on/x"} {
		b.frame(mail{play: &playWish{id: bad}})
		require.Nil(t, b.player, bad)
	}
}

// TestThePictureOfWhatPlays is that of a plain run, forwards and backwards.
func TestThePictureOfWhatPlays(t *testing.T) {
	p := program(t, "marram")
	script, err := os.ReadFile("../../demo/marram/out-to-the-mole-and-back.csv")
	require.NoError(t, err)
	pl := newPlayer("x", script, p, 0, 0)
	at := func(frame int64) []float64 {
		pl.target = frame
		for pl.at != frame {
			pl.frame()
		}
		return pl.scene.numbers(nil)
	}
	there := at(900)
	require.NotZero(t, there[stage.NumberX]+there[stage.NumberY], "it went somewhere")
	at(1300)
	require.Equal(t, there, at(900), "the same frame again shows the same picture")
}

// TestFieldsComeBesideTheBench, once, and again when another control matters.
func TestFieldsComeBesideTheBench(t *testing.T) {
	b := onBench(t)
	first, second := "", ""
	b.frame(mail{mix: &contract.ToBench{T: contract.ToBenchTMixing, First: &first, Second: &second}})
	told := func() *contract.Mixing {
		for range 400 {
			b.frame(b.box.take())
			if msg, sent := b.mixes(); msg != nil {
				sent()
				return msg.Mixing
			}
			time.Sleep(time.Millisecond)
		}
		return nil
	}
	got := told()
	require.NotNil(t, got)
	require.Equal(t, 0, got.At)
	require.Equal(t, "port_track", got.Pairs[0].First)
	require.Len(t, got.Fields, 3)
	require.Len(t, got.Paths[0], 81)
	b.frame(mail{set: map[string]any{"drive": 50.0, "turn": 10.0}})
	require.Nil(t, told(), "the two of the square change nothing")
	b.frame(mail{set: map[string]any{"ground": "road"}})
	slow := told()
	require.NotNil(t, slow, "a rate of 60")
	require.NotEqual(t, got.Fields[0].First, slow.Fields[0].First)
	b.frame(mail{mix: &contract.ToBench{T: contract.ToBenchTMixing}})
	b.frame(mail{set: map[string]any{"ground": "snow"}})
	require.Nil(t, told(), "nobody looks any more")
}
