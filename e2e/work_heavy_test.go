package e2e

import (
	"context"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/coder/websocket/wsjson"
	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

// manyStances is a model whose drill has 486 positions to begin in: five switches of three
// positions and one of two, beside functions enough for the work to be heavy.
func manyStances() string {
	var controls, mixes strings.Builder
	for i := range 6 {
		positions := "[low, middle, high]"
		if i == 5 {
			positions = "[low, high]"
		}
		fmt.Fprintf(&controls, "    - {id: s%d, kind: switch, label: Switch %d, positions: %s}\n", i, i, positions)
		fmt.Fprintf(&mixes, "  - {id: sm%d, to: o%d, from: s%d}\n", i, i+2, i)
	}
	text := strings.Replace(rig.Wide(24), "outputs:\n", controls.String()+"outputs:\n", 1)
	return strings.Replace(strings.Replace(text, "receivers:\n", mixes.String()+"receivers:\n", 1),
		"name: Wide", "name: Stances", 1)
}

// long is a document of nearly 1 MiB.
func long() string {
	text := rig.Wide(48)
	return text + strings.Repeat("# what was tried, and what came of it\n", (1<<20-len(text)-20)/38)
}

// answer is what of a bench's answers is looked at.
type answer struct {
	T     string
	Drill struct{ Of int }
}

// asks opens a bench of a model, sends a message and waits for what answers it.
func asks(ctx context.Context, t *testing.T, app *rig.App, id string, message map[string]any,
	by string) answer {
	conn, err := app.Bench(ctx, id)
	require.NoError(t, err)
	defer conn.CloseNow()
	require.NoError(t, wsjson.Write(ctx, conn, message))
	for {
		var told answer
		require.NoError(t, wsjson.Read(ctx, conn, &told))
		if told.T == by {
			return told
		}
	}
}

// TestHeavyWorkHoldsNoBenchUp: while a drill of 486 positions, a map, a sheet as PDF or a document of
// nearly 1 MiB is worked out, one after the other, the frames of other benches come when they are
// due. What is allowed is for a machine that does other things too: work that stops a bench
// stops it for longer, and every time, where such a machine is not that slow three times in a row.
func TestHeavyWorkHoldsNoBenchUp(t *testing.T) {
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop()) })
	stoat, err := app.Model("Stoat")
	require.NoError(t, err)
	stances, err := app.Make(manyStances())
	require.NoError(t, err)
	ctx, cancel := context.WithTimeout(t.Context(), 2*time.Minute)
	defer cancel()

	works := []func(){
		func() {
			told := asks(ctx, t, app, stances, map[string]any{"t": "stage", "drill": "switch_on"}, "drilled")
			require.Equal(t, 486, told.Drill.Of)
		},
		func() { asks(ctx, t, app, stoat, map[string]any{"t": "mixing", "first": "", "second": ""}, "mixing") },
		func() {
			_, err := app.Send("GET", "/api/models/"+stoat+"/sheet.pdf", "")
			require.NoError(t, err)
		},
		func() {
			_, err := app.Make(long())
			require.NoError(t, err)
		},
	}
	var late string
	for try := range 3 {
		if late = heldUp(ctx, t, app, stoat, works); late == "" {
			return
		}
		t.Logf("try %d: %s", try+1, late)
	}
	require.Empty(t, late)
}

// heldUp plays three benches while the works are done one after the other, and says which bench was
// held up, or nothing.
func heldUp(ctx context.Context, t *testing.T, app *rig.App, stoat string, works []func()) string {
	const lasts = 6 * time.Second
	tallies, errs := make([]rig.Tally, 3), make([]error, 3)
	var benches sync.WaitGroup
	began := time.Now()
	for i := range tallies {
		benches.Go(func() { errs[i] = tallies[i].Play(ctx, app, stoat, i, lasts) })
	}
	done := 0
	for ; time.Since(began) < lasts-time.Second || done < len(works); done++ {
		works[done%len(works)]()
	}
	benches.Wait()
	for i, tally := range tallies {
		require.NoError(t, errs[i])
		told := fmt.Sprintf("%d works; bench %d: %d frames, %d late, the latest by %v", done, i,
			tally.Frames, tally.Late, tally.Worst)
		t.Log(told)
		if tally.Frames <= 250 || tally.Late >= tally.Frames/20 || tally.Worst >= 150*time.Millisecond {
			return told
		}
	}
	return ""
}
