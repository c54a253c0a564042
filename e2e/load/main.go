// Command load opens 100 live benches on one application, beside which it runs,
// moves levers on each of them in every frame, and says how late frames come.
package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"runtime/debug"
	"sync"
	"time"

	"axtren/e2e/rig"
)

var (
	benches = flag.Int("benches", 100, "how many benches are open")
	lasts   = flag.Duration("lasts", 20*time.Second, "how long; what the hands did is kept for ten minutes")
)

func main() {
	flag.Parse()
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
	ctx, cancel := context.WithTimeout(context.Background(), *lasts+time.Minute)
	defer cancel()
	tallies := make([]rig.Tally, *benches)
	errs := make([]error, *benches)
	var all sync.WaitGroup
	for i := range tallies {
		all.Go(func() { errs[i] = tallies[i].Play(ctx, app, id, i, *lasts) })
		time.Sleep(15 * time.Millisecond) // so that not all of them tick at once
	}
	most, err := watch(app, &all)
	if err != nil {
		return err
	}
	sum := rig.Tally{}
	for i, one := range tallies {
		if errs[i] != nil {
			return fmt.Errorf("bench %d: %w", i, errs[i])
		}
		sum.Frames += one.Frames
		sum.Late += one.Late
		sum.Missing += one.Missing
		sum.Worst = max(sum.Worst, one.Worst)
	}
	fmt.Printf("%d benches for %v, every lever moving: %d frames, %.2f %% of them more than one frame "+
		"late, %d left out, the latest %v late; the server had %d MB at most\n",
		*benches, *lasts, sum.Frames, 100*float64(sum.Late)/float64(sum.Frames), sum.Missing,
		sum.Worst.Round(time.Millisecond), most>>20)
	return nil
}

// watch waits for all benches, and gives how much memory the application had at most.
func watch(app *rig.App, all *sync.WaitGroup) (most int64, err error) {
	over := make(chan struct{})
	go func() { all.Wait(); close(over) }()
	for tick := time.NewTicker(time.Second); ; <-tick.C {
		has, err := app.Memory()
		if err != nil {
			return 0, err
		}
		most = max(most, has)
		select {
		case <-over:
			return most, nil
		default:
		}
	}
}
