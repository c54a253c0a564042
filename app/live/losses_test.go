package live

import (
	"context"
	"errors"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/session"
	"axtren/core/setup"
)

// shelfOf is a source with some recordings.
type shelfOf map[uuid.UUID]string

func (shelfOf) Head(context.Context, uuid.UUID) (*store.Head, error) {
	return nil, errors.New("no model")
}

func (s shelfOf) Recording(_ context.Context, _, id uuid.UUID) (*store.Recording, error) {
	script, ok := s[id]
	if !ok {
		return nil, errors.New("there is no such recording any more")
	}
	return &store.Recording{ID: id, Script: script}, nil
}

func (shelfOf) Walk(context.Context, uuid.UUID, uuid.UUID) (*store.Walk, error) {
	return nil, store.ErrNoWalk
}

// drilled runs a bench until a drill is there, or cannot be played.
func (b *bench) drilled(t *testing.T, m mail) contract.LossesTold {
	t.Helper()
	return *b.tells(t, own[*lossesFeature](b), m,
		func(msg *contract.Told) bool { return msg.Losses.Drill != nil }).Losses
}

// TestTheSignalIsCutWhereSomebodyWants: at a moment of the run that was drilled, with its return or
// without; what
// is no moment plays nothing.
func TestTheSignalIsCutWhereSomebodyWants(t *testing.T) {
	b := onBench(t)
	good := uuid.New()
	b.from = shelfOf{good: "t_s,control,value\n0,drive,0\n1,drive,80\n4,drive,0\n"}
	run, wanted := good.String(), true
	b.drilled(t, mail{asks: ask(contract.Asked{T: contract.ToLosses, Wanted: &wanted, Recording: &run})})
	script := func(id string) string {
		w := session.Wish{ID: id}
		own[*lossesFeature](b).script(b, &w)
		return string(w.Script)
	}
	lost := script("cut/lost/2.5")
	require.Contains(t, lost, "1,drive,80\n")
	require.Contains(t, lost, "2.5,link,down\n")
	require.NotContains(t, lost, "4,drive,0\n2.5", "rows are in order")
	require.NotContains(t, strings.SplitN(lost, "link,down", 2)[1], "link,up")
	require.Contains(t, strings.SplitN(script("cut/back/2.5"), "link,down", 2)[1], "link,up")
	for _, bad := range []string{"cut/lost/x", "cut/lost/-1", "cut/lost/99999", "cut/lost", "cut/lost/1/2"} {
		require.Empty(t, script(bad), bad)
	}
}

// TestTheSignalIsLostAtEveryMoment: of a recording, of what was done here, and of nobody's hands; anew for
// a new revision; the worst moment of a function plays; what does not fit is said, and nothing is told any
// more when nobody wants it.
func TestTheSignalIsLostAtEveryMoment(t *testing.T) {
	b := onBench(t)
	good, bad, gone := uuid.New(), uuid.New(), uuid.New()
	b.from = shelfOf{good: "t_s,control,value\n0,drive,0\n1,drive,80\n2,drive,-60\n",
		bad: "t_s,control,value\n0,nobody,1\n"}
	wants := func(run string) mail {
		yes := true
		return mail{asks: ask(contract.Asked{T: contract.ToLosses, Wanted: &yes, Recording: &run})}
	}
	told := b.drilled(t, wants(good.String()))
	require.Equal(t, good.String(), told.Run)
	require.Equal(t, 200, told.Cuts, "4 s in frames of 20 ms, but the first")
	require.Empty(t, told.Why)
	require.Len(t, told.Drill.Stands, len(b.session.Newest().Doc.Setup.Outputs))
	msg, _ := own[*lossesFeature](b).next(b)
	require.Nil(t, msg, "it is told once")

	require.NotEmpty(t, told.Drill.Returns)
	back := told.Drill.Returns[0].Plays
	b.turn(2, mail{play: &session.Wish{ID: back}})
	require.Equal(t, back, b.session.Player().ID())
	require.Empty(t, b.session.Player().Why())
	b.turn(1, mail{play: &session.Wish{}})
	b.turn(1, mail{play: &session.Wish{ID: "lost/nobody"}})
	require.Nil(t, b.session.Player())

	// a new revision is played anew
	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	b.adopt(&store.Head{Revision: store.Revision{Number: 2}, Doc: doc})
	require.Equal(t, 200, b.drilled(t, mail{}).Cuts)

	require.Equal(t, 100, b.drilled(t, wants("")).Cuts, "two seconds with hands off")
	b.turn(30, mail{set: map[string]string{"drive": "100"}})
	require.Positive(t, b.drilled(t, wants(ofBench)).Cuts)

	told = b.drilled(t, wants(bad.String()))
	require.Contains(t, told.Why, "does not fit the model any more")
	require.Contains(t, told.Why, "line 2")
	require.Empty(t, told.Drill.Stands)
	require.NotNil(t, told.Drill.Stands)
	require.Contains(t, b.drilled(t, wants(gone.String())).Why, "no such recording")

	// nobody looks any more
	b.frame(mail{asks: ask(contract.Asked{T: contract.ToLosses, Wanted: new(bool)})})
	for range 3 * lossesEvery {
		b.frame(b.box.take())
		msg, _ := own[*lossesFeature](b).next(b)
		require.Nil(t, msg)
	}
}
