package live

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/setup"
)

// told collects every message of the bench over some frames.
func (b *bench) told(frames int) []*contract.Told {
	var all []*contract.Told
	for range frames {
		b.frame(b.box.take())
		for msg, sent := b.next(); msg != nil; msg, sent = b.next() {
			all = append(all, msg)
			sent()
		}
	}
	return all
}

func of(t contract.ToldT, all []*contract.Told) *contract.Told {
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
	for _, msg := range []contract.Asked{
		{T: contract.ToHello, N: &one, Set: &set},
		{T: contract.ToPlot, Control: text("drive"), Output: text("port_track")},
		{T: contract.ToMixing, First: text(""), Second: text("")},
		{T: contract.ToTrouble, Complaint: text("hums"), Output: text("port_track")},
		{T: contract.ToWatch, Joint: text("out/port_track/pulse")},
		{T: contract.ToBeat},
	} {
		b.box.putMessage(&msg)
	}
	first, ok := b.awaitHello(t.Context(), &store.Head{Revision: store.Revision{Number: 1}, Doc: doc})
	require.True(t, ok)
	b.frame(first)
	drive, _ := b.session.Runs().Program.Hand("drive")
	require.Equal(t, 80.0, b.session.Hands()[drive])
	require.Eventually(t, func() bool {
		all := b.told(mixingEvery + 1)
		return of(contract.FromMixing, all) != nil
	}, 10*time.Second, time.Millisecond, "the pair that was asked for with the hello")
	b.box.putMessage(&contract.Asked{T: contract.ToBeat})
	require.NotNil(t, of(contract.FromBeat, b.told(1)))
	b.box.putKept()
	b.box.putKept()
	require.NotNil(t, of(contract.FromKept, b.told(1)))
	require.Nil(t, of(contract.FromKept, b.told(1)), "it is told once")
}

// TestTheFirstAnswersAreAllThere: each wish that came with the hello has its answer,
// and the view comes first.
func TestTheFirstAnswersAreAllThere(t *testing.T) {
	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	b := &bench{box: newInbox()}
	text := func(s string) *string { return &s }
	b.box.putMessage(&contract.Asked{T: contract.ToHello, Set: &map[string]any{}})
	b.box.putMessage(&contract.Asked{T: contract.ToPlot, Control: text("drive"), Output: text("port_track")})
	b.box.putMessage(&contract.Asked{T: contract.ToTrouble, Complaint: text("wrong_way"),
		Output: text("port_track")})
	b.box.putMessage(&contract.Asked{T: contract.ToWatch, Joint: text("out/port_track/pulse")})
	first, ok := b.awaitHello(t.Context(), &store.Head{Revision: store.Revision{Number: 1}, Doc: doc})
	require.True(t, ok)
	b.frame(first)
	all := b.told(1)
	require.Equal(t, contract.FromWhole, all[0].T)
	for _, kind := range []contract.ToldT{contract.FromPlot, contract.FromWhy} {
		require.NotNil(t, of(kind, all), kind)
	}
	var causes *contract.Told
	require.Eventually(t, func() bool { // hands are tried for it beside the bench
		causes = of(contract.FromTrouble, b.told(1))
		return causes != nil
	}, 10*time.Second, time.Millisecond)
	require.Contains(t, (*causes.Causes)[0].What, "direction")

	// what was asked before and comes late is not told
	b.box.putMessage(&contract.Asked{T: contract.ToTrouble, Complaint: text("nothing"),
		Output: text("port_track")})
	b.frame(b.box.take())
	b.box.putMessage(&contract.Asked{T: contract.ToTrouble})
	b.frame(b.box.take())
	for range 20 {
		time.Sleep(time.Millisecond)
		require.Nil(t, of(contract.FromTrouble, b.told(1)))
	}
}

// TestTheBoxHoldsNoMoreHandsThanThereCanBe, however many messages come between two frames.
func TestTheBoxHoldsNoMoreHandsThanThereCanBe(t *testing.T) {
	box := newInbox()
	for i := range 50 {
		set := map[string]any{}
		for k := range 100 {
			set[fmt.Sprintf("x%d_%d", i, k)] = 1.0
		}
		box.putMessage(&contract.Asked{T: contract.ToHands, Set: &set})
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
