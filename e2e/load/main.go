// Command load opens 100 live benches on one application, beside which it runs,
// moves levers on each of them in every frame, and says how late frames come.
package main

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"runtime/debug"
	"strings"
	"sync"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"

	"axtren/e2e/rig"
)

const (
	benches = 100
	lasts   = 20 * time.Second
	frame   = 20 * time.Millisecond
)

func main() {
	if err := run(); err != nil {
		fmt.Fprintln(os.Stderr, "load:", err)
		os.Exit(1)
	}
}

func run() error {
	debug.SetGCPercent(-1) // what we measure is not our own collection
	app, stop, err := rig.OpenApp()
	if err != nil {
		return err
	}
	defer stop()
	id, err := app.Model("Stoat")
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(context.Background(), lasts+30*time.Second)
	defer cancel()
	tallies := make([]tally, benches)
	errs := make([]error, benches)
	var all sync.WaitGroup
	for i := range tallies {
		all.Go(func() { errs[i] = tallies[i].play(ctx, app.URL, id, i) })
		time.Sleep(15 * time.Millisecond) // so that not all of them tick at once
	}
	all.Wait()
	sum := tally{}
	for i, one := range tallies {
		if errs[i] != nil {
			return fmt.Errorf("bench %d: %w", i, errs[i])
		}
		sum.frames += one.frames
		sum.late += one.late
		sum.missing += one.missing
		sum.worst = max(sum.worst, one.worst)
	}
	fmt.Printf("%d benches for %v, every lever moving: %d frames, %.2f %% of them more than one frame "+
		"late, %d left out, the latest %v late\n",
		benches, lasts, sum.frames, 100*float64(sum.late)/float64(sum.frames), sum.missing,
		sum.worst.Round(time.Millisecond))
	return nil
}

// tally is what one bench saw. A frame is late by how long after its time it
// came, counted from the earliest frame of the bench: the clock of its engine.
type tally struct {
	frames, late, missing int
	worst                 time.Duration
}

func (t *tally) play(ctx context.Context, url, id string, seed int) error {
	conn, _, err := websocket.Dial(ctx, strings.Replace(url, "http", "ws", 1)+"/api/models/"+id+"/live", nil)
	if err != nil {
		return err
	}
	defer conn.CloseNow()
	conn.SetReadLimit(1 << 20)
	n := int64(1)
	if err := wsjson.Write(ctx, conn, map[string]any{"t": "hello", "n": n,
		"set": map[string]any{}}); err != nil {
		return err
	}
	playing, over := context.WithTimeout(ctx, lasts)
	defer over()
	go func() {
		for tick := time.NewTicker(frame); playing.Err() == nil; <-tick.C {
			n++
			set := map[string]any{"drive": float64((int(n)*3+seed)%200 - 100),
				"turn": float64((int(n)+seed)%200 - 100), "blade_up": float64(int(n)%200 - 100)}
			if wsjson.Write(playing, conn, map[string]any{"t": "hands", "n": n, "set": set}) != nil {
				return
			}
		}
	}()
	var came []time.Time
	var numbers []int64
	for {
		_, text, err := conn.Read(playing)
		if err != nil {
			break // the time is over
		}
		now := time.Now()
		var msg struct {
			T string
			K int64
		}
		if err := json.Unmarshal(text, &msg); err != nil {
			return err
		}
		if msg.T == "frame" {
			came, numbers = append(came, now), append(numbers, msg.K)
		}
	}
	t.count(came, numbers)
	return nil
}

// count looks at the gap before each frame: the engine's clock is the ticker of
// its bench, so a frame that comes more than two frame times after the one before
// it is more than one frame late.
func (t *tally) count(came []time.Time, numbers []int64) {
	for i := 1; i < len(came); i++ {
		t.frames++
		t.missing += int(numbers[i] - numbers[i-1] - 1)
		late := came[i].Sub(came[i-1]) - frame
		if late > frame {
			t.late++
		}
		t.worst = max(t.worst, late)
	}
}
