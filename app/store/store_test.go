package store

import (
	"context"
	"fmt"
	"os"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/app/cluster/clustertest"
	"axtren/core/edit"
	"axtren/core/setup"
)

func TestMain(m *testing.M) { clustertest.Main(m) }

func open(t *testing.T) *Store {
	s, err := Open(t.Context(), clustertest.URL(t))
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

func stoat(t *testing.T) *setup.Document {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return doc
}

func by(edit any) Origin { return Origin{"page", fmt.Sprint(edit)} }

func low(v int) []byte {
	return fmt.Appendf(nil,
		`[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/low","value":%d}]`, v)
}

func TestEditsAreKeptAndTakenBack(t *testing.T) {
	s, ctx := open(t), context.Background()
	first, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	id := first.ModelID

	second, err := s.Edit(ctx, id, 1, by(1), low(-80))
	require.NoError(t, err)
	require.Equal(t, 2, second.Number)
	require.Equal(t, -80.0, second.Doc.Setup.Outputs[1].Low)
	require.Equal(t, "Right track: “low end” changed from −96 to −80", second.UndoWords("page"))
	require.Empty(t, second.RedoWords("page"))

	again, err := s.Edit(ctx, id, 1, by(1), low(-80))
	require.NoError(t, err)
	require.Equal(t, 2, again.Number, "the same edit sent again is no second edit")

	_, err = s.Edit(ctx, id, 1, by(2), low(-70))
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	require.Equal(t, 2, stale.Head)
	require.Equal(t, "Right track: “low end” changed from −96 to −80", stale.Since[0].Words)

	_, err = s.Edit(ctx, id, 2, by(3), low(5))
	var refused setup.Problems
	require.ErrorAs(t, err, &refused)
	require.Equal(t, "outputs[1].low", refused[0].Path)

	third, err := s.Undo(ctx, id, 2, by(4), false)
	require.NoError(t, err)
	require.Equal(t, 3, third.Number)
	require.True(t, first.Doc.Tree.Equal(third.Doc.Tree))
	require.Equal(t, "Right track: “low end” changed from −96 to −80", third.RedoWords("page"))
	_, err = s.Undo(ctx, id, 3, by(5), false)
	require.ErrorIs(t, err, ErrNothingToDo)

	fourth, err := s.Redo(ctx, id, 3, by(6))
	require.NoError(t, err)
	require.True(t, second.Doc.Tree.Equal(fourth.Doc.Tree))
	_, err = s.Redo(ctx, id, 4, by(7))
	require.ErrorIs(t, err, ErrNothingToDo)

	all, err := s.Revisions(ctx, id, 0, 1000, 1000)
	require.NoError(t, err)
	require.Len(t, all, 4)
	_, err = s.Head(ctx, uuid.New())
	require.ErrorIs(t, err, ErrNotFound)
}

// TestUndoIsALinearHistory plays edits, undos and redos against a plain list of
// documents with a cursor.
func TestUndoIsALinearHistory(t *testing.T) {
	s, ctx := open(t), context.Background()
	doc := stoat(t)
	runs := 0
	rapid.Check(t, func(t *rapid.T) {
		runs++
		now, err := s.Create(ctx, doc, by(fmt.Sprint("x", runs)), "imported")
		require.NoError(t, err)
		history, at := []float64{now.Doc.Setup.Outputs[1].Low}, 0
		for i, what := range rapid.SliceOfN(rapid.SampledFrom([]string{"edit", "edit", "undo", "redo"}), 1,
			12).Draw(t, "acts") {
			var after *Head
			switch what {
			case "edit":
				v := -rapid.IntRange(10, 150).Draw(t, "low")
				if float64(v) == history[at] {
					continue // nothing is kept that is equal to what was
				}
				after, err = s.Edit(ctx, now.ModelID, now.Number, by(i), low(v))
				history = append(history[:at+1], float64(v))
				at++
			case "undo":
				after, err = s.Undo(ctx, now.ModelID, now.Number, by(i), false)
				if at == 0 {
					require.ErrorIs(t, err, ErrNothingToDo)
					continue
				}
				at--
			case "redo":
				after, err = s.Redo(ctx, now.ModelID, now.Number, by(i))
				if at == len(history)-1 {
					require.ErrorIs(t, err, ErrNothingToDo)
					continue
				}
				at++
			}
			require.NoError(t, err)
			require.Equal(t, history[at], after.Doc.Setup.Outputs[1].Low)
			now = after
		}
	})
}

func TestEditsAtOnceGiveOneWinner(t *testing.T) {
	s, ctx := open(t), context.Background()
	m, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	var won, lost int
	var mu sync.Mutex
	var all sync.WaitGroup
	for i := range 12 {
		all.Go(func() {
			_, err := s.Edit(ctx, m.ModelID, 1, by(i), low(-50-i))
			mu.Lock()
			defer mu.Unlock()
			if err == nil {
				won++
			} else {
				var stale *StaleError
				require.ErrorAs(t, err, &stale)
				lost++
			}
		})
	}
	all.Wait()
	require.Equal(t, 1, won)
	require.Equal(t, 11, lost)
}

func TestDemoIsLoadedOncePerDatabase(t *testing.T) {
	s, ctx := open(t), context.Background()
	for i := range 3 {
		loaded, err := s.LoadOnce(ctx, "demo", New{Doc: stoat(t), Words: "imported",
			Recordings: []Recording{{Name: "a walk", Script: "t_s,control,value\n"}}})
		require.NoError(t, err)
		require.Equal(t, i == 0, loaded)
	}
	require.Equal(t, []string{"Stoat"}, listed(t, s))
}

func TestTheDocumentIsKeptAsWritten(t *testing.T) {
	s, ctx := open(t), context.Background()
	doc := stoat(t)
	m, err := s.Create(ctx, doc, by("import"), "imported")
	require.NoError(t, err)
	back, err := s.Head(ctx, m.ModelID)
	require.NoError(t, err)
	require.Equal(t, string(doc.Tree.JSON()), string(back.Doc.Tree.JSON()),
		"order of keys and lists, labels and notes")
}

// TestEachPageTakesItsOwnBack: two pages edit by turns; each undo takes back the
// page's own newest edit, and asks where a later one touched the same place.
func TestEachPageTakesItsOwnBack(t *testing.T) {
	s, ctx := open(t), context.Background()
	m, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	id := m.ModelID
	ours, theirs := func(e string) Origin {
		return Origin{"ours",
			e}
	}, func(e string) Origin { return Origin{"theirs", e} }
	high := []byte(`[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/high","value":77}]`)
	_, err = s.Edit(ctx, id, 1, ours("1"), low(-80))
	require.NoError(t, err)
	now, err := s.Edit(ctx, id, 2, theirs("1"), high)
	require.NoError(t, err)
	require.Contains(t, now.UndoWords("ours"), "low end")
	require.Contains(t, now.UndoWords("theirs"), "high end")
	require.Contains(t, now.UndoWords("a third"), "high end", "a page that made none takes the newest back")

	now, err = s.Undo(ctx, id, 3, ours("2"), false)
	require.NoError(t, err)
	require.Equal(t, -96.0, now.Doc.Setup.Outputs[1].Low)
	require.Equal(t, 77.0, now.Doc.Setup.Outputs[1].High, "their edit stays")
	now, err = s.Redo(ctx, id, 4, ours("3"))
	require.NoError(t, err)
	require.Equal(t, -80.0, now.Doc.Setup.Outputs[1].Low)

	_, err = s.Edit(ctx, id, 5, theirs("2"), low(-60))
	require.NoError(t, err)
	_, err = s.Undo(ctx, id, 6, ours("4"), false)
	var touched *TouchedError
	require.ErrorAs(t, err, &touched)
	require.Equal(t, "Right track: “low end” changed from −96 to −80", touched.Words)
	require.Len(t, touched.Later, 1)
	require.Equal(t, "Right track: “low end” changed from −80 to −60", touched.Later[0].Words)
	now, err = s.Undo(ctx, id, 6, ours("5"), true)
	require.NoError(t, err)
	require.Equal(t, -96.0, now.Doc.Setup.Outputs[1].Low)
}

func TestWhatIsTakenOutOfTheYardCanBePutBack(t *testing.T) {
	s, ctx := open(t), context.Background()
	m, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	again, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	require.Equal(t, m.ModelID, again.ModelID, "the same request sent again is no second model")
	require.NoError(t, s.Remove(ctx, m.ModelID))
	require.ErrorIs(t, s.Remove(ctx, m.ModelID), ErrNotFound)
	require.Empty(t, listed(t, s))
	_, err = s.Edit(ctx, m.ModelID, 1, by(1), low(-80))
	require.ErrorIs(t, err, ErrNotFound)
	require.NoError(t, s.Restore(ctx, m.ModelID))
	require.ErrorIs(t, s.Restore(ctx, m.ModelID), ErrNotFound)
	_, err = s.Edit(ctx, m.ModelID, 1, by(1), low(-80))
	require.NoError(t, err)
}

func TestRecordingsAreKeptByName(t *testing.T) {
	s, ctx := open(t), context.Background()
	m, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	one, err := s.KeepRecording(ctx, m.ModelID, Recording{Name: "round the hut", Exact: true, Script: "one"})
	require.NoError(t, err)
	two, err := s.KeepRecording(ctx, m.ModelID, Recording{Name: "round the hut", Script: "two"})
	require.NoError(t, err)
	list, err := s.Recordings(ctx, m.ModelID)
	require.NoError(t, err)
	require.Len(t, list, 1, "the same name replaces")
	_, err = s.Recording(ctx, m.ModelID, one.ID)
	require.ErrorIs(t, err, ErrNoRecording)
	back, err := s.Recording(ctx, m.ModelID, two.ID)
	require.NoError(t, err)
	require.Equal(t, "two", back.Script)
	require.NoError(t, s.DropRecording(ctx, m.ModelID, two.ID))
	require.ErrorIs(t, s.DropRecording(ctx, m.ModelID, two.ID), ErrNoRecording)
}

// TestEveryServerHears: what one server changes, another on the same database is
// told, also after its connection was lost.
func TestEveryServerHears(t *testing.T) {
	url := clustertest.URL(t)
	here, err := Open(t.Context(), url)
	require.NoError(t, err)
	t.Cleanup(here.Close)
	there, err := Open(t.Context(), url)
	require.NoError(t, err)
	t.Cleanup(there.Close)
	heard, away, missed := make(chan uuid.UUID, 100), make(chan uuid.UUID, 100), make(chan bool, 100)
	kept := make(chan uuid.UUID, 100)
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan bool)
	go func() {
		there.Listen(ctx, Heard{Model: func(id uuid.UUID) { heard <- id }, Kept: func(id uuid.UUID) { kept <- id },
			SentAway: func(id uuid.UUID) { away <- id }, Missed: func() { missed <- true }})
		close(done)
	}()
	t.Cleanup(func() { cancel(); <-done })
	m, err := here.Create(t.Context(), stoat(t), by("import"), "imported")
	require.NoError(t, err)
	edits := 0
	hears := func() bool {
		edits++
		_, err := here.Edit(t.Context(), m.ModelID, edits, by(edits), low(-50-edits))
		require.NoError(t, err)
		select {
		case id := <-heard:
			return id == m.ModelID
		case <-time.After(200 * time.Millisecond):
			return false // not listening yet
		}
	}
	require.Eventually(t, hears, 10*time.Second, time.Millisecond)
	require.NoError(t,
		here.db.Exec("select pg_terminate_backend(pid) from pg_stat_activity where query like 'listen %' "+
			"and datname = current_database()").Error)
	select {
	case <-missed:
	case <-time.After(10 * time.Second):
		t.Fatal("a lost connection was not told")
	}
	require.Eventually(t, hears, 10*time.Second, time.Millisecond)
	only := func(says string, err error) { // of a model that something else is kept, once, and nothing more
		t.Helper()
		require.NoError(t, err, says)
		select {
		case id := <-kept:
			require.Equal(t, m.ModelID, id, says)
		case <-time.After(10 * time.Second):
			t.Fatal(says + " was not told")
		}
	}
	w, err := here.StartWalk(t.Context(), Walk{ModelID: m.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
	only("a walk", err)
	_, err = here.KeepTicks(t.Context(), m.ModelID, w.ID, []Tick{{Part: "rest", Seen: "as"}})
	only("what was seen", err)
	only("a photograph", here.KeepPhoto(t.Context(), m.ModelID, Photo{WalkID: w.ID, Part: "rest",
		Kind: "image/png", Picture: []byte{1}}))
	_, err = here.SignWalk(t.Context(), m.ModelID, w.ID, Signature{Who: "a founder"}, "Tried")
	only("a signature", err)
	require.ErrorIs(t, here.DropWalk(t.Context(), m.ModelID, w.ID), ErrSigned)
	w, err = here.StartWalk(t.Context(), Walk{ModelID: m.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
	only("another walk", err)
	only("a walk that is gone", here.DropWalk(t.Context(), m.ModelID, w.ID))
	note, err := here.Happened(t.Context(), Event{ModelID: m.ModelID, Kind: KindNote, Says: "so"})
	only("a note", err)
	only("a note that is gone", here.DropEvent(t.Context(), m.ModelID, note.ID))
	require.ErrorIs(t, here.DropEvent(t.Context(), m.ModelID, note.ID), ErrNoEvent)
	phone := Phone{ID: uuid.New(), Name: "phone", TokenHash: []byte("h"), MadeAt: time.Now(),
		SeenAt: time.Now()}
	require.NoError(t, here.AddPhone(t.Context(), phone))
	require.NoError(t, here.DropPhone(t.Context(), phone.ID))
	select {
	case id := <-away:
		require.Equal(t, phone.ID, id)
	case <-time.After(10 * time.Second):
		t.Fatal("a phone that was sent away was not told")
	}
	require.Empty(t, kept)
	require.ErrorIs(t, here.DropPhone(t.Context(), phone.ID), ErrNoPhone)
}

// TestAnOlderDatabaseKeepsEverything brings a database of the first version up: what could be
// taken back can be, every revision is what it was, and its history gets small.
func TestAnOlderDatabaseKeepsEverything(t *testing.T) {
	url := clustertest.URL(t)
	// what the revisions were, as this program makes them
	s, err := Open(t.Context(), url)
	require.NoError(t, err)
	m, err := s.Create(t.Context(), stoat(t), by("import"), "imported")
	require.NoError(t, err)
	const last = 130
	texts := map[int]string{1: m.Text}
	var rows []Revision
	for i := 2; i < last; i++ {
		head, err := s.Edit(t.Context(), m.ModelID, i-1, by(i), low(-50-i%40))
		require.NoError(t, err)
		texts[i] = head.Text
	}
	head, err := s.Undo(t.Context(), m.ModelID, last-1, by("u"), false)
	require.NoError(t, err)
	texts[last] = head.Text
	require.NoError(t, s.db.Order("number").Find(&rows, "model_id = ?", m.ModelID).Error)
	require.Len(t, rows, last)
	require.NoError(t, s.db.Exec("drop schema public cascade; create schema public").Error)

	// a database of the first version, in which each has its whole document, and undo is a
	// linked list
	provider, err := s.migrations()
	require.NoError(t, err)
	_, err = provider.UpTo(t.Context(), 1)
	require.NoError(t, err)
	require.NoError(t, s.db.Exec("insert into models (id, head, created_at) values (?, ?, now())", m.ModelID,
		last).Error)
	for _, r := range rows {
		undo := [4]int{r.Number, r.Number - 1, 0, 0}
		switch r.Number {
		case 1:
			undo = [4]int{}
		case 2:
			undo[1] = 0
		case last:
			undo = [4]int{last - 2, 0, last, 0}
		}
		require.NoError(t, s.db.Exec("insert into revisions (model_id, number, made_at, page, edit, kind, patch, "+
			"inverse, words, document, undo_top, undo_below, redo_top, redo_below) values "+
			"(?, ?, now(), ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)", m.ModelID, r.Number, r.Page, r.Edit, r.Kind, r.Patch,
			r.Inverse, r.Words, texts[r.Number], undo[0], undo[1], undo[2], undo[3]).Error)
	}
	// one that no patch makes of the one before
	odd := strings.Replace(texts[77], `"name": "Stoat"`, `"name": "Odd"`, 1)
	require.NotEqual(t, odd, texts[77])
	texts[77] = odd
	require.NoError(t, s.db.Exec("update revisions set document = ? where number = 77", odd).Error)
	s.Close()

	s, err = Open(t.Context(), url)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	whole := func() (list []int) {
		require.NoError(t, s.db.Model(&Revision{}).Where("document is not null").Order("number").
			Pluck("number", &list).Error)
		return list
	}
	require.Len(t, whole(), last)
	all := func() {
		for number, text := range texts {
			at, err := s.At(t.Context(), m.ModelID, number)
			require.NoError(t, err, number)
			require.Equal(t, text, at.Text, "revision %d", number)
		}
	}
	all()
	for range 2 {
		require.NoError(t, s.Pack(t.Context()))
		require.Equal(t, []int{1, 51, 77, 78, 101}, whole(),
			"the first, every fiftieth, and what patches do not make, with what was made of it")
		all()
	}
	now, err := s.Head(t.Context(), m.ModelID)
	require.NoError(t, err)
	require.Equal(t, texts[last], now.Text)
	require.Equal(t, []int{last}, numbers(now.redo))
	require.Equal(t, last-2, now.undo[len(now.undo)-1].Number)
	now, err = s.Redo(t.Context(), m.ModelID, last, by("r"))
	require.NoError(t, err)
	require.Equal(t, texts[last-1], now.Text)
}

// TestOneHistoryHoldsUpNoOther: what cannot be read of a model is left as it is.
func TestOneHistoryHoldsUpNoOther(t *testing.T) {
	s := open(t)
	var models []*Head
	for i := range 2 {
		m, err := s.Create(t.Context(), stoat(t), by(fmt.Sprint("import", i)), "imported")
		require.NoError(t, err)
		models = append(models, m)
		for n := 1; n < 4; n++ {
			_, err := s.Edit(t.Context(), m.ModelID, n, by(n), low(-50-n))
			require.NoError(t, err)
		}
	}
	require.NoError(t, s.db.Exec("update models set packed = 0").Error)
	require.NoError(t, s.db.Exec("update revisions set patch = '[' where number = 3 and model_id = ?",
		models[0].ModelID).Error)
	require.NoError(t, s.Pack(t.Context()))
	var packed []int
	require.NoError(t, s.db.Model(&Model{}).Order("created_at").Pluck("packed", &packed).Error)
	require.Equal(t, []int{0, 4}, packed)
	now, err := s.Head(t.Context(), models[0].ModelID)
	require.NoError(t, err, "the model itself is as it was")
	require.Equal(t, 4, now.Number)
	_, err = s.At(t.Context(), models[0].ModelID, 3)
	require.ErrorContains(t, err, "revision 3: a patch that was kept cannot be read")
	stopped, cancel := context.WithCancel(t.Context())
	cancel()
	require.ErrorIs(t, s.Pack(stopped), context.Canceled)
}

// TestALongHistoryIsSmall: every revision is there to the byte, also where a text changed the
// order of its keys, and little more is kept of it than what was changed.
func TestALongHistoryIsSmall(t *testing.T) {
	s := open(t)
	m, err := s.Create(t.Context(), stoat(t), by("import"), "imported")
	require.NoError(t, err)
	texts := []string{m.Text}
	const edits = 200
	for i := 1; i <= edits; i++ {
		var head *Head
		if i == 30 { // by hand, in the text
			head, err = s.Change(t.Context(), m.ModelID, i, by(i), func(now *setup.Document) (*edit.Result, error) {
				r, err := edit.Apply(now, low(-33))
				require.NoError(t, err)
				tree := *r.Doc.Tree
				tree.Keys, tree.Items = slices.Clone(tree.Keys), slices.Clone(tree.Items)
				slices.Reverse(tree.Keys)
				slices.Reverse(tree.Items)
				r.Doc, err = setup.FromTree(&tree)
				return r, err
			})
		} else {
			head, err = s.Edit(t.Context(), m.ModelID, i, by(i), low(-50-i%40))
		}
		require.NoError(t, err)
		texts = append(texts, head.Text)
	}
	for i, text := range texts {
		began := time.Now()
		at, err := s.At(t.Context(), m.ModelID, i+1)
		require.NoError(t, err)
		require.Equal(t, text, at.Text, "revision %d", i+1)
		require.Less(t, time.Since(began), 500*time.Millisecond)
	}
	var bytes, whole int
	require.NoError(t, s.db.Raw("select sum(length(patch) + length(inverse) + length(words) + "+
		"coalesce(length(document), 0)), count(document) from revisions").Row().Scan(&bytes, &whole))
	require.Equal(t, 6, whole, "the first, each fiftieth, and that of which the order is another")
	require.Less(t, bytes/edits, 800, "a revision")

	page, err := s.Revisions(t.Context(), m.ModelID, 0, 150, 20)
	require.NoError(t, err)
	require.Len(t, page, 20)
	require.Equal(t, []int{130, 149}, []int{page[0].Number, page[19].Number},
		"the newest before it, the oldest first")
	_, err = s.Edit(t.Context(), m.ModelID, 3, by("late"), low(-20))
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	require.Len(t, stale.Since, toldSince, "who comes late is told the newest of what was made meanwhile")
	require.Equal(t, edits+1, stale.Since[toldSince-1].Number)

	// the same request sent again, long after, is what it made then, with what can be taken back now
	again, err := s.Edit(t.Context(), m.ModelID, 12, by(12), low(-62))
	require.NoError(t, err)
	require.Equal(t, []any{13, texts[12]}, []any{again.Number, again.Text})
	require.NotEmpty(t, again.UndoWords("page"))
	_, err = s.At(t.Context(), m.ModelID, edits+2)
	require.ErrorIs(t, err, ErrNotFound)
}

// TestOneEditIsUndone: that of a revision, whatever came after it, unless that touched the same place; what
// cannot
// be undone says so.
func TestOneEditIsUndone(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	id := head.ModelID
	_, err = s.Edit(ctx, id, 1, by(1), low(-80))
	require.NoError(t, err)
	now, err := s.Edit(ctx, id, 2, by(2), []byte(`[{"op":"replace","path":"/name","value":"Other"}]`))
	require.NoError(t, err)
	require.True(t, now.CanUndo(2))
	require.False(t, now.CanUndo(1))
	_, err = s.UndoOf(ctx, id, 3, by(3), 1, false)
	require.ErrorIs(t, err, ErrNothingToDo, "how it came is no edit")
	now, err = s.UndoOf(ctx, id, 3, by(4), 2, false)
	require.NoError(t, err)
	require.Equal(t, "Other", now.Doc.Setup.Name)
	require.Equal(t, -96.0, now.Doc.Setup.Outputs[1].Low)
	require.False(t, now.CanUndo(2))
	_, err = s.Edit(ctx, id, 4, by(5), low(-70))
	require.NoError(t, err)
	_, err = s.Edit(ctx, id, 5, by(6), low(-60))
	require.NoError(t, err)
	_, err = s.UndoOf(ctx, id, 6, by(7), 5, false)
	var touched *TouchedError
	require.ErrorAs(t, err, &touched)
	require.Len(t, touched.Later, 1)
}

// TestWalksAreInOrder though a clock was set back between them.
func TestWalksAreInOrder(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	var ids []uuid.UUID
	for range 2 {
		w, err := s.StartWalk(ctx, Walk{ModelID: head.ModelID, Revision: 1, Steps: "{}", Counts: []int{1}})
		require.NoError(t, err)
		_, err = s.SignWalk(ctx, head.ModelID, w.ID, Signature{Who: "a founder"}, "Tried")
		require.NoError(t, err)
		ids = append(ids, w.ID)
		require.NoError(t, s.db.Exec("update walks set signed_at = signed_at + interval '9 years', made_at = "+
			"made_at + "+
			"interval '9 years' where id = ?", ids[0]).Error)
	}
	for _, list := range []func(context.Context, uuid.UUID) ([]Walk, error){s.Walks, s.Signed} {
		walks, err := list(ctx, head.ModelID)
		require.NoError(t, err)
		require.Equal(t, ids[1], walks[0].ID, "the newest first")
	}
	all, err := s.Signed(ctx, head.ModelID)
	require.NoError(t, err)
	require.Len(t, all, 1, "one of all devices ends the list")
}

// TestWhatWasTickedIsKept with its revision; the same code again is the same sheet.
func TestWhatWasTickedIsKept(t *testing.T) {
	s, ctx := open(t), context.Background()
	head, err := s.Create(ctx, stoat(t), by("import"), "imported")
	require.NoError(t, err)
	one := Ticked{ModelID: head.ModelID, Revision: 1, Code: "AAAA", Of: 9, Keyed: 9, ReadBack: 8, Seen: 1,
		Open: []string{"Ends, x: not read back"}}
	_, err = s.KeepTicked(ctx, one, "a sheet")
	require.NoError(t, err)
	_, err = s.KeepTicked(ctx, Ticked{ModelID: head.ModelID, Revision: 1, Since: 0, Code: "BBBB", Of: 9,
		Keyed: 2}, "another")
	require.NoError(t, err)
	_, err = s.KeepTicked(ctx, one, "a sheet")
	require.NoError(t, err)
	list, err := s.Ticked(ctx, head.ModelID)
	require.NoError(t, err)
	events, err := s.EventsOf(ctx, head.ModelID, KindSheet)
	require.NoError(t, err)
	require.Len(t, events, 2, "the same code again is no second")
	require.Equal(t, []string{"a sheet", "another"}, []string{events[0].What, events[1].What})
	require.Len(t, list, 2)
	require.Equal(t, "AAAA", list[0].Code, "the newest first")
	require.Equal(t, one.Open, list[0].Open)
	other, err := s.Ticked(ctx, uuid.New())
	require.NoError(t, err)
	require.Empty(t, other)
	_, err = s.KeepTicked(ctx, Ticked{ModelID: uuid.New(), Code: "CCCC"}, "one")
	require.Error(t, err, "of no model")
}

// TestPhonesComeAndGo: found by the hash of their token, seen to the minute, gone
// when they are taken back.
func TestPhonesComeAndGo(t *testing.T) {
	s, ctx := open(t), context.Background()
	now := time.Now().Truncate(time.Second)
	phone := Phone{ID: uuid.New(), Name: "a phone", TokenHash: []byte("hash"), MadeAt: now, SeenAt: now}
	require.NoError(t, s.AddPhone(ctx, phone))
	require.Error(t, s.AddPhone(ctx, Phone{ID: uuid.New(), TokenHash: []byte("hash"), MadeAt: now,
		SeenAt: now}), "a token is of one phone")
	for _, later := range []struct {
		after time.Duration
		seen  time.Duration
	}{{30 * time.Second, 0}, {90 * time.Second, 90 * time.Second}, {100 * time.Second, 90 * time.Second}} {
		found, err := s.PhoneOf(ctx, []byte("hash"), now.Add(later.after))
		require.NoError(t, err)
		require.Equal(t, phone.ID, found.ID)
		list, err := s.Phones(ctx)
		require.NoError(t, err)
		require.Len(t, list, 1)
		require.WithinDuration(t, now.Add(later.seen), list[0].SeenAt, time.Second)
	}
	_, err := s.PhoneOf(ctx, []byte("forged"), now)
	require.ErrorIs(t, err, ErrNoPhone)
	require.NoError(t, s.DropPhone(ctx, phone.ID))
	require.ErrorIs(t, s.DropPhone(ctx, phone.ID), ErrNoPhone)
	_, err = s.PhoneOf(ctx, []byte("hash"), now)
	require.ErrorIs(t, err, ErrNoPhone)
}

// listed names the models of the list.
func listed(t *testing.T, s *Store) []string {
	all, err := s.Summaries(t.Context(), Models, "a program", func(h *Head) (Summary, error) {
		return Summary{Program: "a program", Model: h.Doc.Setup.Name}, nil
	})
	require.NoError(t, err)
	names := []string{}
	for _, one := range all {
		names = append(names, one.Model)
	}
	return names
}

// TestASummaryIsWorkedOutOnce, for each revision and each program.
func TestASummaryIsWorkedOutOnce(t *testing.T) {
	s := open(t)
	var made []string
	list := func(program string) (names []string) {
		all, err := s.Summaries(t.Context(), Models, program, func(h *Head) (Summary, error) {
			made = append(made, fmt.Sprintf("%s %d %s", h.Doc.Setup.Name, h.Number, program))
			return Summary{Program: program, Model: fmt.Sprintf("%s at %d", h.Doc.Setup.Name, h.Number),
				Still: "picture", Holds: "a servo", Place: "a place"}, nil
		})
		require.NoError(t, err)
		for _, one := range all {
			names = append(names, one.Model)
			require.Equal(t, "a place", one.Place)
		}
		return names
	}
	var models []*Head
	for i := range 3 {
		m, err := s.Create(t.Context(), stoat(t), by(fmt.Sprint("import", i)), "imported")
		require.NoError(t, err)
		models = append(models, m)
	}
	for range 2 {
		require.Equal(t, []string{"Stoat at 1", "Stoat at 1", "Stoat at 1"}, list("one"))
	}
	require.Len(t, made, 3)

	_, err := s.Edit(t.Context(), models[1].ModelID, 1, by(1), low(-80))
	require.NoError(t, err)
	made = nil
	require.Equal(t, []string{"Stoat at 1", "Stoat at 2", "Stoat at 1"}, list("one"))
	require.Equal(t, []string{"Stoat 2 one"}, made, "only what was changed")

	made = nil
	list("two")
	require.Len(t, made, 3, "another program may say something else")
	one, err := s.Summary(t.Context(), models[1].ModelID, "two", nil)
	require.NoError(t, err)
	require.Equal(t, []any{"Stoat at 2", "picture", 2}, []any{one.Model, one.Still, one.Number})
	require.NoError(t, s.Remove(t.Context(), models[0].ModelID))
	require.Equal(t, []string{"Stoat at 2", "Stoat at 1"}, list("two"))
	_, err = s.Summary(t.Context(), models[0].ModelID, "two", nil)
	require.ErrorIs(t, err, ErrNotFound)
	for of, holds := range map[Listed]string{Models: "", Holders: "a servo"} {
		all, err := s.Summaries(t.Context(), of, "two", nil)
		require.NoError(t, err)
		require.Len(t, all, 2)
		require.Equal(t, []any{holds, "a place", ""}, []any{all[0].Holds, all[0].Place, all[0].Still})
	}
	none, err := s.Summaries(t.Context(), Pieces, "two", nil)
	require.NoError(t, err)
	require.Empty(t, none, "models are no pieces")
}
