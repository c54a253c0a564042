package store

import (
	"context"
	"fmt"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
)

// placed tells what a log has, the newest first: r2 for a revision, else what an event says.
func placed(list []Happening) []string {
	said := []string{}
	for _, h := range list {
		if h.Event != nil {
			said = append(said, h.Event.Says)
		} else {
			said = append(said, fmt.Sprintf("r%d", h.Revision.Number))
		}
	}
	return said
}

// TestTheLogIsInOrder: what was noted stands after the revision at which it was, in the order in which it was
// noted, though a clock was set back meanwhile; page by page it is the same list; by group and by letters.
func TestTheLogIsInOrder(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	id := head.ModelID
	note := func(kind, says string) uuid.UUID {
		e, err := s.Happened(ctx, Event{ID: uuid.New(), ModelID: id, Kind: kind, Says: says, Minutes: 5,
			Battery: "battery 1"})
		require.NoError(t, err)
		return e.ID
	}
	note(KindNote, "first 100 %")
	first := note(KindRun, "second")
	_, err = s.Edit(ctx, id, 1, by("a"), low(-80))
	require.NoError(t, err)
	require.NoError(t, s.db.Exec("update revisions set made_at = made_at - interval '9 years' where number "+
		"= 2").Error)
	note(KindFault, "third_x")
	stand := `[{"op":"add","path":"/stand","value":{"found":[{"output":"starboard_track","what":"low","value":-80,"on":"3 Nov"}]}}]`
	_, err = s.Edit(ctx, id, 2, by("b"), []byte(stand))
	require.NoError(t, err)
	all, err := s.Log(ctx, id, LogWish{Limit: 50})
	require.NoError(t, err)
	require.Equal(t, []string{"r3", "third_x", "r2", "second", "first 100 %", "r1"}, placed(all))

	var paged []string
	wish := LogWish{Limit: 2}
	for {
		some, err := s.Log(ctx, id, wish)
		require.NoError(t, err)
		paged = append(paged, placed(some)...)
		if len(some) < 2 {
			break
		}
		wish.Before = some[1].At()
	}
	require.Equal(t, placed(all), paged)

	for group, want := range map[string][]string{"changes": {"r2", "r1"}, "notes": {"third_x", "second",
		"first 100 %"},
		"tried": {}, "measured": {"r3"}} {
		list, err := s.Log(ctx, id, LogWish{Group: group, Limit: 50})
		require.NoError(t, err)
		require.Equal(t, want, placed(list), group)
	}
	for find, want := range map[string][]string{"THIRD": {"third_x"}, "%": {"first 100 %"}, "_": {"third_x"},
		"battery 1": {"third_x", "second", "first 100 %"}, "low end": {"r2"}, "nothing like it": {}} {
		list, err := s.Log(ctx, id, LogWish{Find: find, Limit: 50})
		require.NoError(t, err)
		require.Equal(t, want, placed(list), find)
	}
	runs, err := s.Runs(ctx, id)
	require.NoError(t, err)
	require.Equal(t, []Run{{"battery 1", 5, 1}}, runs)

	// the same sent again is no second, and what is taken back is gone
	e, err := s.Happened(ctx, Event{ID: first, ModelID: id, Kind: KindNote, Says: "again"})
	require.NoError(t, err)
	require.NotNil(t, e)
	require.NoError(t, s.DropEvent(ctx, id, first))
	require.ErrorIs(t, s.DropEvent(ctx, id, first), ErrNoEvent)
	all, err = s.Log(ctx, id, LogWish{Limit: 50})
	require.NoError(t, err)
	require.Equal(t, []string{"r3", "third_x", "r2", "first 100 %", "r1"}, placed(all))
	_, err = s.Happened(ctx, Event{ModelID: uuid.New(), Kind: KindNote})
	require.ErrorIs(t, err, ErrNotFound)
}

// TestWhatIsNotedIsBounded: a model has so much, and no more; another one still has room.
func TestWhatIsNotedIsBounded(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	require.NoError(t, s.db.Exec("insert into events (id, model_id, revision, made_at, kind, says) select "+
		"gen_random_uuid(), ?, "+
		"1, now(), 'note', 'n' from generate_series(1, ?)", head.ModelID, MaxEvents-1).Error)
	_, err = s.Happened(ctx, Event{ModelID: head.ModelID, Kind: KindNote, Says: "the last"})
	require.NoError(t, err)
	_, err = s.Happened(ctx, Event{ModelID: head.ModelID, Kind: KindNote, Says: "one more"})
	require.ErrorIs(t, err, ErrManyEvents)
	other, err := s.Create(ctx, stoat(t), by("other"), "imported")
	require.NoError(t, err)
	_, err = s.Happened(ctx, Event{ModelID: other.ModelID, Kind: KindNote, Says: "here"})
	require.NoError(t, err)
}

// TestPhotographsAreBounded: one of a part at a step, so many of a walk, none of one that was signed.
func TestPhotographsAreBounded(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	w, err := s.StartWalk(ctx, Walk{ModelID: head.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
	require.NoError(t, err)
	for n := range maxPhotos {
		require.NoError(t, s.KeepPhoto(ctx, head.ModelID, Photo{WalkID: w.ID, Step: n, Part: "rest",
			Kind:    "image/png",
			Picture: []byte{byte(n)}}))
	}
	require.NoError(t, s.KeepPhoto(ctx, head.ModelID, Photo{WalkID: w.ID, Step: 3, Part: "rest",
		Kind:    "image/jpeg",
		Picture: []byte{99}}))
	require.ErrorIs(t, s.KeepPhoto(ctx, head.ModelID, Photo{WalkID: w.ID, Step: 99, Part: "rest",
		Picture: []byte{1}}), ErrManyPhotos)
	one, err := s.Photo(ctx, head.ModelID, w.ID, 3, "rest")
	require.NoError(t, err)
	require.Equal(t, []byte{99}, one.Picture)
	_, err = s.Photo(ctx, uuid.New(), w.ID, 3, "rest")
	require.ErrorIs(t, err, ErrNoWalk)
	_, err = s.SignWalk(ctx, head.ModelID, w.ID, Signature{Who: "a founder"}, "Tried")
	require.NoError(t, err)
	require.ErrorIs(t, s.KeepPhoto(ctx, head.ModelID, Photo{WalkID: w.ID, Step: 3, Part: "rest",
		Picture: []byte{1}}), ErrSigned)
	events, err := s.EventsOf(ctx, head.ModelID, KindWalk)
	require.NoError(t, err)
	require.Len(t, events, 1)
	require.Equal(t, w.ID, *events[0].WalkID)
	require.ErrorIs(t, s.DropEvent(ctx, head.ModelID, events[0].ID), ErrNoEvent, "a signature is not taken back")
}

// TestSignedWalksAreBounded: so many of a model, and photographs of all its walks together.
func TestSignedWalksAreBounded(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	signed := func(n int) {
		require.NoError(t, s.db.Exec("insert into walks (id, model_id, revision, whole, made_at, steps, "+
			"counts, script, "+
			"signed_at) select gen_random_uuid(), ?, 1, false, now(), '{}', '[1]', '', now() from "+
			"generate_series(1, ?)",
			head.ModelID, n).Error)
	}
	signed(maxSignedWalks - 1)
	for n, want := range []error{nil, ErrManyEvents} {
		w, err := s.StartWalk(ctx, Walk{ModelID: head.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
		require.NoError(t, err)
		_, err = s.SignWalk(ctx, head.ModelID, w.ID, Signature{Who: "a founder"}, "Tried")
		require.ErrorIs(t, err, want, n)
	}
	require.NoError(t, s.db.Exec("insert into walk_photos (walk_id, step, part, kind, picture) select id, "+
		"1, 'rest', "+
		"'image/png', '' from walks where model_id = ? and signed_at is not null limit ?", head.ModelID,
		maxOfModel).Error)
	w, err := s.StartWalk(ctx, Walk{ModelID: head.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
	require.NoError(t, err)
	require.ErrorIs(t, s.KeepPhoto(ctx, head.ModelID, Photo{WalkID: w.ID, Step: 1, Part: "rest",
		Kind:    "image/png",
		Picture: []byte{1}}), ErrManyPhotos)
}
