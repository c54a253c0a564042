package linkage

import "math"

// Why a way ends.
const (
	Binds  = "binds"  // the rod reaches no further
	Turns  = "turns"  // over centre: from there the part comes back
	Stops  = "stops"  // the part is at its own stop
	Tight  = "tight"  // the wires are too tight
	Round  = "round"  // the part would be turned right round
	Beyond = "beyond" // nothing ends it up to Most
)

// Limit is how far a linkage can be moved to one side.
type Limit struct {
	Position float64 // percent
	Part     float64
	Why      string
}

// tooTight is from which play on wires bind, degrees.
const tooTight = -1

// mostTurn is how far a part turns either way at most, degrees: no horn stays on further.
const mostTurn = 150

// mostRatio is how many degrees a part turns for one of the shaft at most: beyond it rod and horn are in
// one line.
const mostRatio = 1e3

// step is how finely a way is looked at before a limit is found exactly, percent.
const step = 2.0

// reach gives how far the linkage can be moved from the middle to a side: until it binds, goes over centre or
// meets a stop.
func (l *Linkage) reach(side float64) Limit {
	last, _ := l.At(0)
	for at := step; ; at += step {
		if at > Most {
			pose, _ := l.At(side * Most)
			return Limit{side * Most, pose.Part, Beyond}
		}
		pose, ok := l.At(side * at)
		why := l.ends(pose, ok)
		if why == "" {
			last = pose
			continue
		}
		good, bad := at-step, at
		for range 50 {
			middle := (good + bad) / 2
			pose, ok := l.At(side * middle)
			if so := l.ends(pose, ok); so == "" {
				good, last = middle, pose
			} else {
				bad, why = middle, so
			}
		}
		return Limit{side * good, last.Part, why}
	}
}

// ends tells why a pose cannot be gone through; empty where it can.
func (l *Linkage) ends(pose Pose, ok bool) string {
	switch low, high := l.of.StopLow, l.of.StopHigh; {
	case !ok, math.IsNaN(pose.Part), math.IsNaN(pose.Ratio), math.Abs(pose.Ratio) > mostRatio && !l.slides(),
		math.IsInf(pose.Ratio, 0):
		return Binds
	case l.of.Kind == "pull_pull" && pose.Play < tooTight:
		return Tight
	case pose.Ratio <= 0:
		return Turns
	case !l.slides() && math.Abs(pose.Part) > mostTurn:
		return Round
	case low != nil && pose.Part < *low, high != nil && pose.Part > *high:
		return Stops
	}
	return ""
}

// Position gives the position at which the part is somewhere; ok is false where it does not get there.
// Within its reach a part goes only one way, so that halving finds it.
func (l *Linkage) Position(part float64) (position float64, ok bool) {
	a, b := l.Low.Position, l.High.Position
	if part < l.Low.Part-1e-9 || part > l.High.Part+1e-9 {
		return 0, false
	}
	for range 50 {
		middle := (a + b) / 2
		if pose, _ := l.At(middle); pose.Part < part {
			a = middle
		} else {
			b = middle
		}
	}
	return (a + b) / 2, true
}

// Dead gives how far the servo goes from the middle before a spool uncovers anything, percent to − and +.
func (l *Linkage) Dead() (low, high float64) {
	closed := func(part float64) bool { return part == 0 }
	return l.edge(-1, closed), l.edge(1, closed)
}

// Open gives the position from which on a valve is fully open to a side; ok is false where it never is.
func (l *Linkage) Open(side float64) (position float64, ok bool) {
	position = l.edge(side, func(part float64) bool { return math.Abs(part) < 100 })
	return position, math.Abs(position) < Most
}

// edge gives the position up to which a part that goes on and on to a side is as it was.
func (l *Linkage) edge(side float64, is func(part float64) bool) float64 {
	if pose, ok := l.At(side * Most); ok && is(pose.Part) {
		return side * Most
	}
	a, b := 0.0, float64(Most)
	for range 60 {
		middle := (a + b) / 2
		if pose, ok := l.At(side * middle); ok && is(pose.Part) {
			a = middle
		} else {
			b = middle
		}
	}
	return side * a
}
