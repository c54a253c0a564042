package live

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/store"
	"axtren/app/web/contract"
	"axtren/core/setup"
	"axtren/core/signal"
)

// told collects every message of the bench over some frames.
func (b *bench) told(frames int) []*contract.FromBench {
	var all []*contract.FromBench
	for range frames {
		b.frame(b.box.take())
		for msg, sent := b.next(); msg != nil; msg, sent = b.next() {
			all = append(all, msg)
			sent()
		}
	}
	return all
}

func of(t contract.FromBenchT, all []*contract.FromBench) *contract.FromBench {
	for _, msg := range all {
		if msg.T == t {
			return msg
		}
	}
	return nil
}

// TestWhatComesWithTheHelloIsAnswered: a page says hello and what it wants in one
// go; on a busy machine all of it is in the box before the bench looks into it.
func TestWhatComesWithTheHelloIsAnswered(t *testing.T) {
	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	b := &bench{box: newInbox()}
	text := func(s string) *string { return &s }
	one := int64(1)
	set := map[string]any{"drive": 80.0, "nobody": 3.0}
	for _, msg := range []contract.ToBench{
		{T: contract.ToBenchTHello, N: &one, Set: &set},
		{T: contract.ToBenchTPlot, Control: text("drive"), Output: text("port_track")},
		{T: contract.ToBenchTMixing, First: text(""), Second: text("")},
		{T: contract.ToBenchTTrouble, Complaint: text("hums"), Output: text("port_track")},
		{T: contract.ToBenchTWatch, Joint: text("out/port_track/pulse")},
		{T: contract.ToBenchTBeat},
	} {
		b.box.putMessage(&msg)
	}
	first, ok := b.awaitHello(t.Context(), &store.Head{Revision: store.Revision{Number: 1}, Doc: doc})
	require.True(t, ok)
	b.frame(first)
	require.Equal(t, map[string]any{"drive": 80.0}, b.hands, "what the model does not have is no hand of it")
	require.Eventually(t, func() bool {
		all := b.told(mixingEvery + 1)
		return of(contract.FromBenchTMixing, all) != nil
	}, 10*time.Second, time.Millisecond, "the pair that was asked for with the hello")
	b.box.putMessage(&contract.ToBench{T: contract.ToBenchTBeat})
	require.NotNil(t, of(contract.FromBenchTBeat, b.told(1)))
}

// TestTheFirstAnswersAreAllThere: each wish that came with the hello has its answer,
// and the view comes first.
func TestTheFirstAnswersAreAllThere(t *testing.T) {
	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	b := &bench{box: newInbox()}
	text := func(s string) *string { return &s }
	b.box.putMessage(&contract.ToBench{T: contract.ToBenchTHello, Set: &map[string]any{}})
	b.box.putMessage(&contract.ToBench{T: contract.ToBenchTPlot, Control: text("drive"), Output: text("port_track")})
	b.box.putMessage(&contract.ToBench{T: contract.ToBenchTTrouble, Complaint: text("wrong_way"), Output: text("port_track")})
	b.box.putMessage(&contract.ToBench{T: contract.ToBenchTWatch, Joint: text("out/port_track/pulse")})
	first, ok := b.awaitHello(t.Context(), &store.Head{Revision: store.Revision{Number: 1}, Doc: doc})
	require.True(t, ok)
	b.frame(first)
	all := b.told(1)
	require.Equal(t, contract.FromBenchTBench, all[0].T)
	for _, kind := range []contract.FromBenchT{contract.FromBenchTPlot, contract.FromBenchTTrouble, contract.FromBenchTWhy} {
		require.NotNil(t, of(kind, all), kind)
	}
}

// TestOnlyHandsOfTheModelCount: what the model does not have, and where a control
// cannot go, is neither placed nor recorded, however often it is sent.
func TestOnlyHandsOfTheModelCount(t *testing.T) {
	b := onBench(t)
	before := b.record.script()
	for i := range 300 {
		set := map[string]any{"drive": 500.0, "deck": "nowhere"}
		for k := range 100 {
			set[fmt.Sprintf("x%d_%d", i, k)] = 1.0
		}
		b.frame(mail{set: set})
	}
	require.Empty(t, b.hands)
	require.Empty(t, b.record.rows)
	require.Equal(t, string(before), string(b.record.script()))
	require.Equal(t, b.program.Rest(), b.now)

	box := newInbox()
	for i := range 50 {
		set := map[string]any{}
		for k := range 100 {
			set[fmt.Sprintf("x%d_%d", i, k)] = 1.0
		}
		box.putMessage(&contract.ToBench{T: contract.ToBenchTHands, Set: &set})
	}
	require.LessOrEqual(t, len(box.take().set), maxHands)
}

func TestHandsAreNumbersOrNames(t *testing.T) {
	good := map[string]any{"drive": 1.5, "deck": "up"}
	require.NoError(t, checkHands(&good))
	require.NoError(t, checkHands(nil))
	for name, set := range map[string]map[string]any{
		"a list":      {"drive": []any{1.0}},
		"an object":   {"drive": map[string]any{"a": 1.0}},
		"nothing":     {"drive": nil},
		"yes":         {"drive": true},
		"a long word": {"deck": strings.Repeat("u", maxWord+1)},
		"a long id":   {strings.Repeat("u", maxWord+1): 1.0},
	} {
		require.Error(t, checkHands(&set), name)
	}
	many := map[string]any{}
	for i := range maxHands + 1 {
		many[fmt.Sprint(i)] = 1.0
	}
	require.ErrorContains(t, checkHands(&many), "at most")
}

// TestARecordingIsBounded: by time, and by rows where frames are short; what is left
// gives where the hands are now.
func TestARecordingIsBounded(t *testing.T) {
	p, err := signal.Compile(docOf(t).Setup)
	require.NoError(t, err)
	r := newRecording(p, 0, p.Rest(), true)
	drive, _ := p.Hand("drive")
	turn, _ := p.Hand("turn")
	frames := int64(200_000)
	for k := range frames {
		r.add(k, []movement{{value: float64(k % 100), hand: uint16(drive)}, {value: 1, hand: uint16(turn)}, {value: 2, hand: uint16(turn)},
			{value: 3, hand: uint16(turn)}, {value: float64(k % 50), hand: uint16(turn)}})
	}
	kept := r.rows[r.head:]
	require.LessOrEqual(t, len(kept), maxRows)
	require.Greater(t, len(kept), maxRows-10, "as much as there is room for is kept")
	require.LessOrEqual(t, len(r.rows), 2*maxRows+10, "what is forgotten is let go of")
	require.False(t, r.exact)
	require.EqualValues(t, kept[0].frame, r.from, "no frame is kept in part")
	require.EqualValues(t, frames-1, kept[len(kept)-1].frame)
	require.Equal(t, float64((r.from-1)%100), r.start[drive], "where it was when the rest begins")

	short := newRecording(p, 0, p.Rest(), true)
	short.add(10, []movement{{value: 7, hand: uint16(drive)}})
	short.add(20, []movement{{value: 9, hand: uint16(turn)}})
	require.True(t, short.exact)
	require.Equal(t, "t_s,control,value\n0.200,drive,7\n0.400,turn,9\n", string(short.script()))
	short.add(10+600*50+1, nil)
	require.False(t, short.exact)
	require.Equal(t, []string{"t_s,control,value", "0.000,drive,7", "0.180,turn,9", ""}, strings.Split(string(short.script()), "\n"))
	require.False(t, slices.Equal(short.start, p.Rest()))
}

// BenchmarkRecordingKeptFull is what a frame costs once ten minutes are kept.
func BenchmarkRecordingKeptFull(b *testing.B) {
	doc := docOf(b)
	p, err := signal.Compile(doc.Setup)
	require.NoError(b, err)
	r := newRecording(p, 0, p.Rest(), true)
	moved := make([]movement, 8)
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
