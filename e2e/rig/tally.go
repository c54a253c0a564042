package rig

import (
	"context"
	"encoding/json"
	"time"

	"github.com/coder/websocket/wsjson"
)

// Frame is how long a frame of the demo's models lasts.
const Frame = 20 * time.Millisecond

// Tally is what one bench saw. A frame is late by how long after its time it
// came, counted from the earliest frame of the bench: the clock of its engine.
type Tally struct {
	Frames, Late, Missing int
	Worst                 time.Duration
}

// Play opens a bench of Stoat, moves three levers of it in every frame for a time, and counts.
func (t *Tally) Play(ctx context.Context, app *App, id string, seed int, lasts time.Duration) error {
	conn, err := app.Bench(ctx, id)
	if err != nil {
		return err
	}
	defer conn.CloseNow()
	n := int64(1)
	playing, over := context.WithTimeout(ctx, lasts)
	defer over()
	go func() {
		for tick := time.NewTicker(Frame); playing.Err() == nil; <-tick.C {
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
func (t *Tally) count(came []time.Time, numbers []int64) {
	for i := 1; i < len(came); i++ {
		t.Frames++
		t.Missing += int(numbers[i] - numbers[i-1] - 1)
		late := came[i].Sub(came[i-1]) - Frame
		if late > Frame {
			t.Late++
		}
		t.Worst = max(t.Worst, late)
	}
}
