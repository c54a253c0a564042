package session

import (
	"bytes"
	"fmt"
	"math"
	"os"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/record"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/core/words"
)

func document(t testing.TB, name string) *setup.Document {
	t.Helper()
	text, err := os.ReadFile("../../demo/" + name + ".yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}

func program(t testing.TB, name string) *signal.Program {
	t.Helper()
	p, err := signal.Compile(document(t, name).Setup)
	require.NoError(t, err)
	return p
}

func revision(t testing.TB, name string) Revision {
	t.Helper()
	doc := document(t, name)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	return Revision{doc, p}
}

func (s *Session) steps(n int) {
	for range n {
		s.Step()
	}
}

func (s *Session) picture() []float64 { return s.Values(nil)[len(s.View().Slots):] }

// TestHandsThatCount: what the model does not have, and where a control cannot go, is
// neither placed nor recorded, however often it is sent.
func TestHandsThatCount(t *testing.T) {
	s := New(revision(t, "stoat"), map[string]string{"drive": "80", "nobody": "3", "deck": "nowhere",
		"turn": "x"})
	drive, _ := s.Runs().Program.Hand("drive")
	want := s.Runs().Program.Rest()
	want[drive] = 80
	require.Equal(t, want, s.Hands())
	before := s.Recording().Script()
	for i := range 300 {
		set := map[string]string{"drive": "500", "deck": "nowhere"}
		for k := range 100 {
			set[fmt.Sprintf("x%d_%d", i, k)] = "1"
		}
		s.Move(set)
		s.Step()
	}
	require.Zero(t, s.hist.rows.Len())
	require.Equal(t, map[string]string{"drive": "80"}, s.hands)
	require.Equal(t, string(before), string(s.Recording().Script()))
	require.Equal(t, want, s.Hands())
}

// TestATrialGoesOnOverRevisions, and ends where it no longer fits.
func TestATrialGoesOnOverRevisions(t *testing.T) {
	first := revision(t, "stoat")
	s := New(first, nil)
	s.steps(3)
	at, view := s.Live().Frame, s.View()
	require.Error(t, s.Try(Patch([]byte(`[{"op":"add","path":"/outputs/0/high","value":500}]`))))
	require.Equal(t, s.Newest(), s.Runs())
	require.Same(t, view, s.View(), "what does not fit changes nothing")
	high := `[{"op":"test","path":"/outputs/0/id","value":"port_track"},{"op":"add","path":"/outputs/0/high","value":60}]`
	require.NoError(t, s.Try(Patch([]byte(high))))
	require.NotEqual(t, s.Newest(), s.Runs())
	require.NotSame(t, view, s.View())
	require.Equal(t, 60.0, s.Runs().Program.Setup().Outputs[0].High)
	require.Equal(t, first.Program, s.Newest().Program)
	require.Equal(t, at, s.Live().Frame, "it is no power-on")

	second := revision(t, "stoat")
	stays, err := s.Adopt(second)
	require.NoError(t, err)
	require.True(t, stays)
	require.Equal(t, 60.0, s.Runs().Program.Setup().Outputs[0].High)
	require.Same(t, second.Program, s.Newest().Program)

	stays, err = s.Adopt(revision(t, "marram"))
	require.Error(t, err, "it has no such line there")
	require.False(t, stays)
	require.Equal(t, s.Newest(), s.Runs())
	require.Equal(t, s.Newest(), s.Runs())

	require.NoError(t, s.Try(Patch([]byte(`[{"op":"add","path":"/name","value":"Other"}]`))))
	s.Drop()
	require.Equal(t, s.Newest(), s.Runs())
	require.Equal(t, s.Newest(), s.Runs())
	stays, err = s.Adopt(first)
	require.NoError(t, err)
	require.False(t, stays, "there was no trial")
}

// TestTheRailIsOfWhatIsKept: worked out once for a revision, whatever is tried on it.
func TestTheRailIsOfWhatIsKept(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	first := s.Rail()
	require.Len(t, first.Places, len(words.Places))
	require.Same(t, first, s.Rail())
	require.NoError(t, s.Try(Patch([]byte(`[{"op":"add","path":"/name","value":"Other"}]`))))
	require.Same(t, first, s.Rail(), "a trial changes nothing of it")
	_, err := s.Adopt(revision(t, "stoat"))
	require.NoError(t, err)
	require.NotSame(t, first, s.Rail())
}

// TestAFieldIsSet where it stands in what is kept, tried again and again; what is no field, and what
// no field can be, is refused; what stands there already makes no change.
func TestAFieldIsSet(t *testing.T) {
	first := revision(t, "stoat")
	s := New(first, nil)
	low := func() float64 { return s.Runs().Program.Setup().Outputs[0].Low }
	require.Equal(t, -96.0, low())
	require.ErrorContains(t, s.Try(s.Set("out/nothing/ends", "low", -50.0)), "nothing")
	require.Error(t, s.Try(s.Set("out/port_track/ends", "low", "far")))
	require.Equal(t, -96.0, low())
	for _, to := range []float64{-50, -60, -70} {
		require.NoError(t, s.Try(s.Set("out/port_track/ends", "low", to)))
		require.Equal(t, to, low())
	}
	require.NoError(t, s.Try(s.Set("out/port_track/ends", "low", -96.0)))
	require.Same(t, first.Program, s.Runs().Program, "nothing differs from what is kept")
}

// TestWhatPlaysGoesOnOverAnEdit with the program that was edited.
func TestWhatPlaysGoesOnOverAnEdit(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	s.Play(&Wish{ID: "a", Script: []byte("t_s,control,value\n0,drive,100\n1,drive,0\n")})
	s.steps(10)
	port := func() float64 { return s.State().At(s.Runs().Program.Routes[0].P) }
	require.Equal(t, 94.0, port())
	require.NoError(t, s.Try(s.Set("out/port_track/ends", "high", 40.0)))
	require.EqualValues(t, 10, s.Player().At(), "the same frame")
	require.Equal(t, 40.0, port())
}

// TestWhatChangedIsToldOnce, and all of it.
func TestWhatChangedIsToldOnce(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	s.Step()
	var c Changes
	page := s.Values(nil)
	c.Tell(slices.Clone(page))
	at, _, told := c.Next(s)
	require.Empty(t, at)
	told()
	_, _, ok := c.Since(page[1:])
	require.False(t, ok, "there are not as many")
	other := slices.Clone(page)
	other[3]++
	at, v, ok := c.Since(other)
	require.True(t, ok)
	require.Equal(t, []any{[]int{3}, []float64{other[3]}}, []any{at, v})
	for k := range 100 {
		if k%7 == 0 {
			s.Move(map[string]string{"drive": fmt.Sprint(k), "turn": fmt.Sprint(-k)})
		}
		s.Step()
		at, v, told := c.Next(s)
		if k%3 == 0 {
			continue // it could not be sent: it comes with the next
		}
		for i, place := range at {
			require.NotEqual(t, page[place], v[i])
			page[place] = v[i]
		}
		told()
		require.Equal(t, s.Values(nil), page, "frame %d", k)
	}
}

// TestAHandTakesOver from what plays, and the session goes on from its own state.
func TestAHandTakesOver(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	s.steps(10)
	own := s.Live().Frame
	script := []byte("t_s,control,value\n0.2,drive,60\n1,drive,0\n")
	s.Play(&Wish{ID: "a", Script: script})
	require.NotSame(t, s.Live(), s.State())
	s.steps(30)
	require.Equal(t, own, s.Live().Frame)
	require.EqualValues(t, 30, s.Player().At())
	still := 0.0
	s.Play(&Wish{ID: "a", Script: script, Run: &still})
	s.steps(5)
	require.EqualValues(t, 30, s.Player().At(), "it stands")
	to := int64(12)
	s.Play(&Wish{ID: "a", Script: script, Seek: &to})
	s.steps(1)
	require.EqualValues(t, 12, s.Player().At())
	fast := 1000.0
	s.Play(&Wish{ID: "a", Script: script, Run: &fast})
	require.EqualValues(t, MaxRun, s.Player().Run())
	require.NoError(t, s.Try(Patch([]byte(`[{"op":"add","path":"/name","value":"Other"}]`))))
	require.EqualValues(t, 12, s.Player().At(), "the same frame on the edited model")
	s.Play(&Wish{ID: "a", Script: script, Run: &fast})
	s.steps(60)
	require.Equal(t, s.Player().Of(), s.Player().At())
	require.Zero(t, s.Player().Run())
	one := 1.0
	s.Play(&Wish{ID: "a", Script: script, Run: &one})
	s.steps(3)
	require.EqualValues(t, 2, s.Player().At(), "once more from the start")
	s.steps(10)
	drive, _ := s.Runs().Program.Hand("drive")
	require.Equal(t, 60.0, s.player.hands[drive], "with all that moved, the first as well")
	s.Play(&Wish{ID: "b", Why: "it is gone"})
	require.Equal(t, "it is gone", s.Player().Why())
	s.Move(map[string]string{"turn": "10"})
	require.Nil(t, s.Player())
	require.Same(t, s.Live(), s.State())
	s.Step()
	require.Equal(t, own+1, s.Live().Frame)
}

// TestThePictureFollowsTheValues: its numbers stand behind those of the view, move
// with the devices, and go back where they were.
func TestThePictureFollowsTheValues(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	s.Step()
	require.Len(t, s.picture(), stage.NumbersFirst+stage.NumbersEach*len(s.Scene().Picture.Parts))
	s.Move(map[string]string{"drive": "80"})
	s.steps(50)
	require.Greater(t, s.picture()[stage.NumberX], 100.0)
	require.Zero(t, s.picture()[stage.NumberFree])
	s.Move(map[string]string{"drive": "0"})
	s.Scene().State.PutBack()
	s.Step()
	require.InDelta(t, 0, s.picture()[stage.NumberX], 12, "put back; it still ran for a frame")
}

// TestThePictureGoesOnOverAnEdit: the model stays where it is.
func TestThePictureGoesOnOverAnEdit(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	s.Step()
	s.Move(map[string]string{"drive": "80"})
	s.steps(50)
	at := s.picture()[stage.NumberX]
	_, err := s.Adopt(revision(t, "stoat"))
	require.NoError(t, err)
	require.Equal(t, at, s.picture()[stage.NumberX])
}

// TestThePictureOfWhatPlays is that of a plain run, forwards and backwards.
func TestThePictureOfWhatPlays(t *testing.T) {
	p := program(t, "marram")
	script, err := os.ReadFile("../../demo/marram/out-to-the-mole-and-back.csv")
	require.NoError(t, err)
	pl := plays("x", script, p, 0, 0)
	at := func(frame int64) []float64 {
		pl.target = frame
		for pl.at != frame {
			pl.Step()
		}
		return pl.scene.numbers(nil)
	}
	there := at(900)
	require.NotZero(t, there[stage.NumberX]+there[stage.NumberY], "it went somewhere")
	at(1300)
	require.Equal(t, there, at(900), "the same frame again shows the same picture")
}

// TestThePlayerShowsWhatARunGives: at every frame that it is sent to, forwards and
// backwards, the player holds the state that a plain run of the script has there.
func TestThePlayerShowsWhatARunGives(t *testing.T) {
	p := program(t, "marram")
	script, err := os.ReadFile("../../demo/marram/out-to-the-mole-and-back.csv")
	require.NoError(t, err)
	var frames [][]float64
	require.NoError(t, p.Run(signal.NewScript(bytes.NewReader(script), p), -1,
		func(_ float64, st *signal.State) error {
			frames = append(frames, append([]float64(nil), st.V[:p.Kept()]...))
			return nil
		}))
	pl := plays("x", script, p, 0, 0)
	require.Empty(t, pl.why)
	require.InDelta(t, len(frames)-1, pl.last, 1)
	shown := pl.state
	for _, to := range []int64{0, 1, 700, 699, 12, pl.last - 1, 300} {
		pl.target = to
		for pl.at != to {
			pl.Step()
		}
		require.Equal(t, frames[to], pl.state.V[:p.Kept()], "frame %d", to)
		require.Same(t, shown, pl.state, "the bench shows this state")
	}
	pl.run = 2.5
	for range 10 {
		pl.Step()
	}
	require.EqualValues(t, 325, pl.at)
	require.Equal(t, frames[325], pl.state.V[:p.Kept()])
	pl.target, pl.run = pl.last, 1
	for range 10 {
		pl.Step()
	}
	require.Equal(t, pl.last, pl.at)
	require.Zero(t, pl.run, "it holds at its end")
}

// TestMarksAreAsManyAsARulerShows: each frame in which a hand moved, once; of more than 200 every so
// many-th.
func TestMarksAreAsManyAsARulerShows(t *testing.T) {
	marks := func(n int) []int64 {
		script := "t_s,control,value\n"
		for k := range n {
			script += fmt.Sprintf("%.2f,drive,%d\n%.2f,turn,%d\n", float64(k)/50, k%100, float64(k)/50, k%90)
		}
		return plays("x", []byte(script), program(t, "stoat"), 1, 0).Marks()
	}
	require.Equal(t, []int64{0, 1, 2}, marks(3))
	require.Len(t, marks(200), 200)
	most := marks(201)
	require.Len(t, most, 200)
	require.EqualValues(t, 0, most[0])
	require.EqualValues(t, 199, most[199], "the last frame but one, of 201")
	require.Equal(t, []int64{0, 2, 4}, marks(400)[:3])
}

func TestAScriptThatDoesNotFitSaysWhy(t *testing.T) {
	pl := plays("x", []byte("t_s,control,value\n0,sail,1\n"), program(t, "stoat"), 1, 0)
	require.Contains(t, pl.why, "nothing of this name")
	pl.Step()
	require.Zero(t, pl.last)
}

// TestARecordingIsBounded: by time, and by rows where frames are short; what is left
// gives where the hands are now.
func TestARecordingIsBounded(t *testing.T) {
	p, err := signal.Compile(document(t, "stoat").Setup)
	require.NoError(t, err)
	r := newRecording(p, 0, p.Rest(), true)
	drive, _ := p.Hand("drive")
	turn, _ := p.Hand("turn")
	frames := int64(200_000)
	for k := range frames {
		r.add(k, []record.Change{{Value: float64(k % 100), Of: drive}, {Value: 1, Of: turn},
			{Value: 2, Of: turn},
			{Value: 3, Of: turn}, {Value: float64(k % 50), Of: turn}})
	}
	kept := slices.Collect(r.rows.All())
	require.LessOrEqual(t, len(kept), maxRows)
	require.Len(t, kept, maxRows, "as much as there is room for is kept: whole frames of five")
	require.Less(t, r.rows.Bytes(), 1<<20, "what is forgotten is let go of")
	require.False(t, r.Exact())
	require.EqualValues(t, kept[0].Frame, r.from, "no frame is kept in part")
	require.EqualValues(t, frames-1, kept[len(kept)-1].Frame)
	require.Equal(t, float64((r.from-1)%100), r.start[drive], "where it was when the rest begins")

	short := newRecording(p, 0, p.Rest(), true)
	short.add(10, []record.Change{{Value: 7, Of: drive}})
	short.add(20, []record.Change{{Value: 9, Of: turn}})
	require.True(t, short.Exact())
	require.Equal(t, "t_s,control,value\n0.200,drive,7\n0.400,turn,9\n", string(short.Script()))
	short.add(10+600*50+1, nil)
	require.False(t, short.Exact())
	require.Equal(t, []string{"t_s,control,value", "0.000,drive,7", "0.180,turn,9", ""},
		strings.Split(string(short.Script()), "\n"))
	require.False(t, slices.Equal(short.start, p.Rest()))
	short.add(100_000, nil)
	require.Zero(t, short.rows.Len(), "all of it is too old")
	require.Equal(t, []string{"t_s,control,value", "0.000,drive,7", "0.000,turn,9", ""},
		strings.Split(string(short.Script()), "\n"))
}

// TestAFullRecordTakesLittleRoom: two sticks that never rest for ten minutes.
func TestAFullRecordTakesLittleRoom(t *testing.T) {
	s := New(revision(t, "stoat"), nil)
	axes := []string{"drive", "turn", "blade_up", "blade_side"}
	for k := range 60_000 {
		set := map[string]string{}
		for i, axis := range axes {
			set[axis] = strconv.FormatFloat(float64((k*(7+2*i))%401-200)/2, 'f', -1, 64)
		}
		s.Move(set)
		s.live.Frame++
	}
	t.Logf("%d movements in %d kB", s.hist.rows.Len(), s.hist.rows.Bytes()>>10)
	require.Greater(t, s.hist.rows.Len(), maxRows-10)
	require.Less(t, s.hist.rows.Bytes(), 800<<10)
	s.Move(map[string]string{"drive": "0"})
	before := s.hist.rows.Len()
	s.Move(map[string]string{"drive": "0"})
	require.Equal(t, before, s.hist.rows.Len(), "what stays where it is has not moved")
}

// BenchmarkRecordingKeptFull is what a frame costs once ten minutes are kept.
func BenchmarkRecordingKeptFull(b *testing.B) {
	doc := document(b, "stoat")
	p, err := signal.Compile(doc.Setup)
	require.NoError(b, err)
	r := newRecording(p, 0, p.Rest(), true)
	moved := make([]record.Change, 8)
	k := int64(0)
	for ; k < 30_000; k++ {
		r.add(k, moved)
	}
	b.ReportAllocs()
	for b.Loop() {
		r.add(k, moved)
		k++
	}
}

// TestWhatTheHandsDidIsKept: each movement in its frame, from power-on; an edit begins it
// anew, with the hands where they are.
func TestWhatTheHandsDidIsKept(t *testing.T) {
	s := New(revision(t, "stoat"), map[string]string{"turn": "5"})
	require.True(t, s.Recording().Exact())
	s.steps(2)
	s.Move(map[string]string{"drive": "80", "turn": "-10"})
	s.steps(3)
	s.Move(map[string]string{"drive": "0", "ground": "road"})
	s.steps(1)
	require.Equal(t,
		"t_s,control,value\n0.000,turn,5\n0.040,drive,80\n0.040,turn,-10\n0.100,drive,0\n0.100,ground,road\n",
		string(s.Recording().Script()))

	var trace, plain bytes.Buffer
	require.NoError(t, s.Recording().WriteTrace(&trace, s.Live().Frame-1, false))
	w, err := signal.NewRecorder(&plain, s.Runs().Program, false)
	require.NoError(t, err)
	require.NoError(t, s.Runs().Program.Run(signal.NewScript(bytes.NewReader(s.Recording().Script()),
		s.Runs().Program), 0.1, w.Frame))
	require.NoError(t, w.Close())
	require.Equal(t, plain.String(), trace.String())
	require.Equal(t, 7, strings.Count(trace.String(), "\n"), "a header, and six frames")
	var vcd bytes.Buffer
	require.NoError(t, s.Recording().WriteTrace(&vcd, s.Live().Frame-1, true))
	require.True(t, strings.HasPrefix(vcd.String(), "$version"))

	drive, _ := s.Runs().Program.Hand("drive")
	s.Move(map[string]string{"drive": "30"})
	require.NoError(t, s.Try(Patch([]byte(`[{"op":"add","path":"/name","value":"Other"}]`))))
	require.Equal(t, 30.0, s.Hands()[drive], "the hands are where they were")
	require.False(t, s.Recording().Exact(), "it begins in the middle")
	s.Step()
	s.Move(map[string]string{"turn": "1"})
	require.Equal(t, "t_s,control,value\n0.000,drive,30\n0.000,turn,-10\n0.000,ground,road\n0.020,turn,1\n",
		string(s.Recording().Script()))
	s.steps(1)
	trace.Reset()
	require.NoError(t, s.Recording().WriteTrace(&trace, s.Live().Frame-1, false))
	require.Equal(t, 3, strings.Count(trace.String(), "\n"), "a header, and the two frames since the edit")
	broken := &Recording{program: s.Runs().Program, start: slices.Clone(s.Hands())}
	broken.start[drive] = 5000
	require.ErrorContains(t, broken.WriteTrace(&trace, 10, false), "the recording cannot be played again")
}

// TestValuesAreRounded to what a page can show: four places.
func TestValuesAreRounded(t *testing.T) {
	s := New(revision(t, "stoat"), map[string]string{"drive": "33.333333"})
	s.Step()
	rounded := 0
	for i, slot := range s.View().Slots {
		v := s.Values(nil)[i]
		require.InDelta(t, s.State().At(slot), v, 0.00005)
		require.InDelta(t, v*1e4, math.Round(v*1e4), 1e-6)
		if v != s.State().At(slot) {
			rounded++
		}
	}
	require.Positive(t, rounded)
	room := make([]float64, 3, 1000)
	require.Same(t, &room[0], &s.Values(room)[0], "the room is used again")
}

// TestWhereAPlayIs: before the first frame at 0, each frame counted, no more marks than a
// ruler can show.
func TestWhereAPlayIs(t *testing.T) {
	p := program(t, "stoat")
	var script strings.Builder
	script.WriteString("t_s,control,value\n")
	for k := range 450 {
		fmt.Fprintf(&script, "%.2f,drive,%d\n%.2f,turn,1\n", float64(k)*0.02, k%90, float64(k)*0.02)
	}
	pl := plays("x", []byte(script.String()), p, 1, 0)
	require.EqualValues(t, 0, pl.At())
	require.EqualValues(t, 0, pl.Steps())
	require.EqualValues(t, 449+100, pl.Of(), "two seconds after its last row")
	marks := pl.Marks()
	require.Len(t, marks, 200)
	require.EqualValues(t, 0, marks[0])
	require.EqualValues(t, 2, marks[1])
	require.EqualValues(t, 199*450/200, marks[199])
	for n := range 5 {
		pl.Step()
		require.EqualValues(t, n, pl.At())
		require.EqualValues(t, n+1, pl.Steps())
	}
	pl.target, pl.run = pl.at, 0
	pl.Step()
	require.EqualValues(t, 5, pl.Steps(), "it stands")
	pl.target = 2
	pl.Step()
	require.EqualValues(t, 2, pl.At())
	require.EqualValues(t, 5+3, pl.Steps(), "from the start again, up to it")
	short := plays("x", []byte("t_s,control,value\n0.1,drive,1\n0.1,turn,2\n0.5,drive,0\n"), p, 0.5, 0)
	require.Equal(t, []int64{5, 25}, short.Marks())
	require.Equal(t, []int64{}, plays("x", nil, p, 1, 0).Marks())
	for range 4 {
		short.Step()
	}
	require.EqualValues(t, 1, short.At(), "half a frame a frame")
	long := plays("x", []byte("t_s,control,value\n0,drive,1\n200,drive,0\n"), p, 0, 9000)
	long.Step()
	require.EqualValues(t, catchUp-1, long.At(), "a frame has room for so many")
}

// TestOnlyOneMoves: while one function is alone the others stay at rest, through a trial, its end and a new
// revision; then all move again.
func TestOnlyOneMoves(t *testing.T) {
	of := revision(t, "stoat")
	s := New(of, map[string]string{"drive": "80"})
	left := of.Doc.Setup.Item("port_track").Index
	moves := func() (list []bool) {
		s.steps(30)
		for _, i := range []int{left, of.Doc.Setup.Item("starboard_track").Index} {
			list = append(list, s.Live().At(s.Runs().Program.Routes[i].Target) != of.Doc.Setup.Outputs[i].Centre)
		}
		return list
	}
	require.Equal(t, []bool{true, true}, moves())
	s.Alone("port_track")
	require.Equal(t, []bool{true, false}, moves())
	require.NoError(t, s.Try(s.Set("outputs/port_track", "high", 60.0)))
	require.Equal(t, []bool{true, false}, moves())
	require.Equal(t, 60.0, s.Runs().Doc.Setup.Outputs[left].High)
	s.Alone("starboard_track")
	require.Equal(t, []bool{false, true}, moves(), "the trial goes on")
	require.Equal(t, 60.0, s.Runs().Doc.Setup.Outputs[left].High)
	s.Drop()
	require.Equal(t, []bool{false, true}, moves())
	_, err := s.Adopt(of)
	require.NoError(t, err)
	require.Equal(t, []bool{false, true}, moves())
	s.Alone("nobody")
	require.Equal(t, []bool{true, true}, moves())
}

// plays reads a script for a program, from power-on.
func plays(id string, script []byte, p *signal.Program, run float64, target int64) *Player {
	return newPlayer(&Wish{ID: id, Script: script}, p, run, target)
}

// TestAPlayCanBeginAtAMoment: it shows first what was so then, with the hands where they were, however they
// went on since, and goes on as the session would have; so it does each time that it is wound back, and the
// session itself is left alone.
func TestAPlayCanBeginAtAMoment(t *testing.T) {
	of := revision(t, "stoat")
	s := New(of, nil)
	s.Move(map[string]string{"drive": "60", "turn": "30"})
	s.steps(70)
	m := s.Moment()
	before, scene := s.Live().V[0], s.picture()
	at := slices.Clone(s.Live().V)
	s.Move(map[string]string{"drive": "-100"})
	s.steps(20)

	// what would have been, had the turn alone gone back
	want := of.Program.PowerOn()
	want.CopyFrom(m.State)
	hands := slices.Clone(m.hands)
	turn, _ := of.Program.Hand("turn")
	for frame := 1; frame <= 40; frame++ {
		if frame >= 10 {
			hands[turn] = 0
		}
		of.Program.Step(want, hands)
	}

	live := slices.Clone(s.Live().V)
	script := []byte("t_s,control,value\n0.200,turn,0\n0.800,turn,0\n")
	s.Play(&Wish{ID: "way/1", Script: script, From: m})
	require.Equal(t, at, s.State().V, "first it shows the moment")
	require.Equal(t, before, s.State().V[0])
	require.Equal(t, scene, s.picture())
	pl := s.Player()
	for range 2 {
		pl.target, pl.run = 0, 0
		s.Step()
		require.EqualValues(t, 0, pl.At())
		require.Equal(t, at, s.State().V)
		require.Equal(t, scene, s.picture())
		pl.target = 40
		s.Step()
		require.EqualValues(t, 40, pl.At())
		require.Equal(t, want.V, s.State().V)
		require.NotEqual(t, scene, s.picture())
	}
	require.Equal(t, live, s.Live().V)

	// over an edit it begins at the same moment: what both have is carried
	edited := revision(t, "stoat")
	edited.Doc.Setup.Name += "!"
	_, err := s.Adopt(edited)
	require.NoError(t, err)
	require.Same(t, edited.Program, s.Player().from.Program)
	for i, r := range edited.Program.Routes {
		require.Equal(t, m.State.At(of.Program.Routes[i].P), s.Player().from.State.At(r.P))
	}
	require.Equal(t, m.hands, s.Player().from.hands)
	require.EqualValues(t, 40, s.Player().At())

	// and on a model without one of the hands, all others are where they were
	other := New(revision(t, "wader"), nil).Runs().Program
	now := m.On(other)
	require.Len(t, now.hands, len(other.Rest()))
	require.Same(t, m, m.On(of.Program))
}
