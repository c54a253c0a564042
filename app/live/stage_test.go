package live

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/core/session"
	"axtren/core/signal"
	"axtren/core/stage"
)

// onBench is a bench without a connection, its first frame stepped.
func onBench(t *testing.T) *bench {
	t.Helper()
	doc := docOf(t)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	b := &bench{box: newInbox(), session: session.New(session.Revision{Doc: doc, Program: p}, nil),
		features: newFeatures(newProofs())}
	b.frame(mail{})
	return b
}

func (b *bench) turn(frames int, m mail) {
	b.frame(m)
	for range frames - 1 {
		b.frame(mail{})
	}
}

// feature gives the bench's own of a kind.
func own[F feature](b *bench) (f F) {
	for _, one := range b.features {
		if it, ok := one.feature.(F); ok {
			return it
		}
	}
	return f
}

func ask(msg contract.Asked) map[contract.AskedT]*contract.Asked {
	return map[contract.AskedT]*contract.Asked{msg.T: &msg}
}

// TestWordsComeWhenTheyChange, and only then.
func TestWordsComeWhenTheyChange(t *testing.T) {
	b := onBench(t)
	said := func() *stage.Words {
		for range 2 * wordsEvery {
			if msg, sent := own[*stageFeature](b).next(b); msg != nil {
				sent()
				return msg.Words
			}
		}
		return nil
	}
	require.Equal(t, "Stands still.", said().Head)
	require.Nil(t, said())
	b.turn(10, mail{set: map[string]string{"drive": "80", "turn": "-40"}})
	require.Equal(t, "Ahead, bearing to the left.", said().Head)
	require.Nil(t, said())
}

// TestADrillRunsBesideTheBench, and each of its stances plays as a script.
func TestADrillRunsBesideTheBench(t *testing.T) {
	b := onBench(t)
	kind := string("switch_on")
	b.frame(mail{set: map[string]string{"drive": "50"},
		asks: ask(contract.Asked{T: contract.ToStage, Drill: &kind})})
	require.Eventually(t, func() bool {
		b.frame(b.box.take())
		return own[*stageFeature](b).drilled != nil
	}, 10*time.Second, time.Millisecond)
	drill := own[*stageFeature](b).drilled
	require.Equal(t, "switch_on", drill.Kind)
	require.True(t, drill.Whole)
	require.NotEmpty(t, drill.Lines)
	b.frame(mail{play: &session.Wish{ID: "drill/switch_on/" + drill.Lines[0].Play}})
	require.NotNil(t, b.session.Player())
	require.Empty(t, b.session.Player().Why())
	for range 20 {
		b.frame(mail{})
	}
	require.Zero(t, b.session.State().At(b.session.Runs().Program.SendingSlot()),
		"the transmitter is still off in it")
	b.frame(mail{set: map[string]string{"turn": "10"}})
	require.Nil(t, b.session.Player(), "a hand takes over")
	for _, bad := range []string{"drill/switch_on/99999", "drill/nothing/0", "drill/switch_on",
		"drill/switch_on/x"} {
		b.frame(mail{play: &session.Wish{ID: bad}})
		require.Nil(t, b.session.Player(), bad)
	}
}

// TestAChangedMemoryPlays from the moment of the change: no script gets there.
func TestAChangedMemoryPlays(t *testing.T) {
	b := onBench(t)
	kind := "new_memory"
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToStage, Drill: &kind})})
	require.Eventually(t, func() bool {
		b.frame(b.box.take())
		return own[*stageFeature](b).drilled != nil
	}, 10*time.Second, time.Millisecond)
	line := own[*stageFeature](b).drilled.Lines[0]
	none := 0.0
	b.frame(mail{play: &session.Wish{ID: "drill/new_memory/" + line.Play, Run: &none}})
	pl := b.session.Player()
	require.Empty(t, pl.Why())
	sending := b.session.Runs().Program.SendingSlot()
	require.Zero(t, b.session.State().At(sending), "the transmitter begins anew")
	seek := int64(3)
	b.frame(mail{play: &session.Wish{ID: pl.ID(), Seek: &seek}})
	b.turn(3, mail{})
	require.Equal(t, 1.0, b.session.State().At(sending))
	seek = 0
	b.frame(mail{play: &session.Wish{ID: pl.ID(), Seek: &seek}})
	b.turn(3, mail{})
	require.Zero(t, b.session.State().At(sending), "and once more from the change")
}

// TestFieldsComeBesideTheBench, once, and again when another control matters.
func TestFieldsComeBesideTheBench(t *testing.T) {
	b := onBench(t)
	first, second := "", ""
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToMixing, First: &first, Second: &second})})
	told := func() *contract.Mixing {
		for range 400 {
			b.frame(b.box.take())
			if msg, sent := own[*mixingFeature](b).next(b); msg != nil {
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
	b.frame(mail{set: map[string]string{"drive": "50", "turn": "10"}})
	require.Nil(t, told(), "the two of the square change nothing")
	b.frame(mail{set: map[string]string{"ground": "road"}})
	slow := told()
	require.NotNil(t, slow, "a rate of 60")
	require.NotEqual(t, got.Fields[0].First, slow.Fields[0].First)
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToMixing})})
	b.frame(mail{set: map[string]string{"ground": "snow"}})
	require.Nil(t, told(), "nobody looks any more")
}
