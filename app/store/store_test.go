package store

import (
	"context"
	"fmt"
	"os"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/app/cluster/clustertest"
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
	return fmt.Appendf(nil, `[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/low","value":%d}]`, v)
}

func TestEditsAreKeptAndTakenBack(t *testing.T) {
	s, ctx := open(t), context.Background()
	first, err := s.Create(ctx, stoat(t), by("import"))
	require.NoError(t, err)
	id := first.ModelID

	second, err := s.Edit(ctx, id, 1, by(1), low(-80))
	require.NoError(t, err)
	require.Equal(t, 2, second.Number)
	require.Equal(t, -80.0, second.Doc.Setup.Outputs[1].Low)
	require.Equal(t, "Starboard track: low stop −96 → −80", second.UndoWords)
	require.Empty(t, second.RedoWords)

	again, err := s.Edit(ctx, id, 1, by(1), low(-80))
	require.NoError(t, err)
	require.Equal(t, 2, again.Number, "the same edit sent again is no second edit")

	_, err = s.Edit(ctx, id, 1, by(2), low(-70))
	var stale *StaleError
	require.ErrorAs(t, err, &stale)
	require.Equal(t, 2, stale.Head)
	require.Equal(t, "Starboard track: low stop −96 → −80", stale.Since[0].Words)

	_, err = s.Edit(ctx, id, 2, by(3), low(5))
	var refused setup.Problems
	require.ErrorAs(t, err, &refused)
	require.Equal(t, "outputs[1].low", refused[0].Path)

	third, err := s.Undo(ctx, id, 2, by(4))
	require.NoError(t, err)
	require.Equal(t, 3, third.Number)
	require.True(t, first.Doc.Tree.Equal(third.Doc.Tree))
	require.Equal(t, "Starboard track: low stop −96 → −80", third.RedoWords)
	_, err = s.Undo(ctx, id, 3, by(5))
	require.ErrorIs(t, err, ErrNothingToDo)

	fourth, err := s.Redo(ctx, id, 3, by(6))
	require.NoError(t, err)
	require.True(t, second.Doc.Tree.Equal(fourth.Doc.Tree))
	_, err = s.Redo(ctx, id, 4, by(7))
	require.ErrorIs(t, err, ErrNothingToDo)

	all, err := s.Since(ctx, id, 0)
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
		if runs++; runs > 20 {
			return
		}
		now, err := s.Create(ctx, doc, by("x"))
		require.NoError(t, err)
		history, at := []float64{now.Doc.Setup.Outputs[1].Low}, 0
		for i, what := range rapid.SliceOfN(rapid.SampledFrom([]string{"edit", "undo", "redo"}), 1, 12).Draw(t, "acts") {
			var after *Head
			switch what {
			case "edit":
				v := -rapid.IntRange(10, 150).Draw(t, "low")
				after, err = s.Edit(ctx, now.ModelID, now.Number, by(i), low(v))
				history = append(history[:at+1], float64(v))
				at++
			case "undo":
				after, err = s.Undo(ctx, now.ModelID, now.Number, by(i))
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
	m, err := s.Create(ctx, stoat(t), by("import"))
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
		loaded, err := s.LoadOnce(ctx, "demo", []*setup.Document{stoat(t)})
		require.NoError(t, err)
		require.Equal(t, i == 0, loaded)
	}
	models, err := s.List(ctx)
	require.NoError(t, err)
	require.Len(t, models, 1)
	require.Equal(t, "Stoat", models[0].Doc.Setup.Name)
}

func TestTheDocumentIsKeptAsWritten(t *testing.T) {
	s, ctx := open(t), context.Background()
	doc := stoat(t)
	m, err := s.Create(ctx, doc, by("import"))
	require.NoError(t, err)
	back, err := s.Head(ctx, m.ModelID)
	require.NoError(t, err)
	require.Equal(t, string(doc.Tree.JSON()), string(back.Doc.Tree.JSON()), "order of keys and lists, labels and notes")
}
