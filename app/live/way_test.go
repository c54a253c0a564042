package live

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/diagnose"
	"axtren/core/session"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// tells runs a bench until a feature tells what is waited for, and gives it; it waits no longer than a test
// may.
func (b *bench) tells(t *testing.T, f feature, m mail,
	waited func(*contract.Told) bool) (told *contract.Told) {
	t.Helper()
	b.frame(m)
	require.Eventually(t, func() bool {
		b.frame(b.box.take())
		msg, sent := f.next(b)
		if msg == nil {
			return false
		}
		sent()
		told = msg
		return waited(msg)
	}, 20*time.Second, time.Millisecond)
	return told
}

// answer runs a bench until a way is there, and gives it.
func (b *bench) answer(t *testing.T, m mail) *contract.WayTold {
	t.Helper()
	return b.tells(t, own[*wayFeature](b), m, func(msg *contract.Told) bool { return !msg.Way.Looking }).Way
}

// TestHowToGetThere: from how the hands stand now to what a device is to do; what was found is told once, and
// plays from the moment when it was asked.
func TestHowToGetThere(t *testing.T) {
	b := onBench(t)
	device, ahead, stays := "port_controller", "plus", "still"
	goal := func(does *string) mail {
		return mail{asks: ask(contract.Asked{T: contract.ToWay, Device: &device, Does: does})}
	}
	way := b.answer(t, goal(&ahead))
	require.Equal(t, "devices/port_controller", way.Of)
	require.Equal(t, "plus", way.Does)
	require.Equal(t, []string{"Push Right stick all the way towards forward.",
		"At once left controller turns forward."}, way.Lines)
	msg, _ := own[*wayFeature](b).next(b)
	require.Nil(t, msg, "it is told once")

	// it plays from when it was asked, and goes on being steered when the page has asked for something else
	moment := b.session.Live().Frame
	b.turn(30, mail{set: map[string]string{"drive": "-100"}})
	b.turn(2, mail{play: &session.Wish{ID: way.Plays}})
	require.Equal(t, way.Plays, b.session.Player().ID())
	require.LessOrEqual(t, b.session.State().Frame, moment+3, "not from how the hands went on")
	drive, _ := b.session.Runs().Program.Hand("drive")
	b.turn(10, mail{})
	require.Equal(t, 100.0, b.session.State().At(b.session.Runs().Program.HandSlot(drive)))
	require.Equal(t, -100.0, b.session.Live().At(b.session.Runs().Program.HandSlot(drive)))
	first := way.Plays

	b.turn(40, mail{set: map[string]string{"drive": "-100"}})
	require.Nil(t, b.session.Player())
	b.turn(1, mail{play: &session.Wish{ID: first}})
	way = b.answer(t, goal(&stays))
	require.Equal(t, []string{"Put Right stick, forward to the middle.", "At once left controller stays still."},
		way.Lines)
	require.NotEqual(t, first, way.Plays)
	stop := 0.0
	b.turn(1, mail{play: &session.Wish{ID: first, Run: &stop}})
	require.Zero(t, b.session.Player().Run())
	require.Equal(t, first, b.session.Player().ID())
	b.turn(1, mail{play: &session.Wish{}})
	b.turn(1, mail{play: &session.Wish{ID: first}})
	require.Nil(t, b.session.Player(), "nobody knows it any more")

	// of a lever that was moved with the question it is known where it is
	asked := goal(&ahead)
	asked.set = map[string]string{"drive": "100"}
	require.Equal(t, []string{"It is so already: left controller turns forward."}, b.answer(t, asked).Lines)

	// what is not there is said, and nothing plays it
	nobody, sings := "nobody", "sings"
	for _, asked := range []contract.Asked{
		{T: contract.ToWay, Device: &nobody, Does: &ahead}, {T: contract.ToWay, Device: &device, Does: &sings},
		{T: contract.ToWay, Output: &nobody}, {T: contract.ToWay, Rule: &nobody, Node: new(int)},
	} {
		way = b.answer(t, mail{asks: ask(asked)})
		require.Equal(t, []string{"There is nothing that it could be got to."}, way.Lines)
		require.Empty(t, way.Plays)
	}
}

// TestAnotherModelHasAnotherWay: with a new revision what was found is taken back, and of two searches that
// are asked for at once the last one answers.
func TestAnotherModelHasAnotherWay(t *testing.T) {
	b := onBench(t)
	port, starboard, output, plus := "port_controller", "starboard_controller", "port_track", "plus"
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToWay, Device: &port, Does: &plus})})
	_, _ = own[*wayFeature](b).next(b) // it begins
	way := b.answer(t, mail{asks: ask(contract.Asked{T: contract.ToWay, Device: &starboard, Does: &plus})})
	require.Equal(t, "devices/starboard_controller", way.Of)

	// any device of a function doing something else
	way = b.answer(t, mail{asks: ask(contract.Asked{T: contract.ToWay, Output: &output})})
	require.Equal(t, "outputs/port_track", way.Of)
	require.Len(t, way.Lines, 2)
	require.Contains(t, way.Lines[1], "left controller turns")

	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	b.adopt(&store.Head{Revision: store.Revision{Number: 2}, Doc: doc})
	msg, sent := own[*wayFeature](b).next(b)
	require.NotNil(t, msg)
	sent()
	require.Equal(t, &contract.WayTold{Of: "outputs/port_track", Lines: []string{}}, msg.Way)
	msg, _ = own[*wayFeature](b).next(b)
	require.Nil(t, msg)

	// who asks for nothing any more is told nothing more of it
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToWay, Device: &port, Does: &plus})})
	_, _ = own[*wayFeature](b).next(b)
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToWay})})
	for range 50 {
		time.Sleep(time.Millisecond)
		b.frame(b.box.take())
		msg, _ = own[*wayFeature](b).next(b)
		require.Nil(t, msg)
	}
}

// TestEveryGoalOfTheDemo: whatever a device of the demo can be asked to be got to do, from how things
// stand at power-on, is answered in whole sentences without a name of the document: with what to do, or
// with the proof that nothing does it; and what plays it fits.
func TestEveryGoalOfTheDemo(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	goals, found, open := 0, 0, []string{}
	from := time.Now()
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		s := session.New(session.Revision{Doc: m.Doc, Program: p}, nil)
		for range 100 {
			s.Step()
		}
		now := s.Moment()
		for _, device := range diagnose.Goals(p) {
			for _, does := range device.Says {
				ctx, stop := context.WithTimeout(t.Context(), wayWithin)
				lines, film := way(ctx, now, &contract.Asked{Device: &device.ID, Does: &does.Key})
				stop()
				goals++
				text := strings.Join(lines, " ")
				require.NotRegexp(t, `[a-z]_[a-z]|%!`, text)
				require.Regexp(t, `^[A-Z0-9].*\.$`, text)
				if strings.Contains(text, "no more ") {
					open = append(open, m.Doc.Setup.Name+": "+device.Label+" "+does.Words)
				}
				if film != "" {
					found++
					s.Play(&session.Wish{ID: "way/1", Script: []byte(film), From: now})
					require.Empty(t, s.Player().Why())
				}
			}
		}
	}
	t.Log(goals, found, time.Since(from), open)
	require.Greater(t, goals, 250)
	require.Greater(t, found, goals/2)
	require.Empty(t, open)
}
