package linkage

import (
	"math"

	"axtren/core/setup"
)

// Wheels are the angles of a steered pair, degrees to the right of straight ahead.
type Wheels struct {
	Left, Right float64
	Ideal       float64 // what the right one would have to be for the left one
	// of the circle that the middle of the axle behind goes round, millimetres; + to the right, and without
	// end straight ahead
	Radius float64
}

// Steer gives the wheels where the left one stands at an angle. The rod between the arms keeps its length;
// ok is false where it does not reach.
func Steer(of *setup.Steers, left float64) (w Wheels, ok bool) {
	arm, inward := of.ArmMM, of.InwardDeg
	// ahead is +y here: the arm of the left wheel points to 180° − inward, clockwise from ahead
	tip := turned(180 - inward + left).times(arm)
	pin := Point{of.TrackMM, 0}
	straightLeft, straightRight := turned(180-inward).times(arm), pin.plus(turned(180+inward).times(arm))
	rod := straightRight.minus(straightLeft).length()
	best, found := 0.0, false
	for _, way := range []branch{1, -1} {
		deg, reaches := hornOf(pin.minus(tip), arm, rod, false, way)
		if right := wrap(deg - 180 - inward); reaches && (!found || math.Abs(right-left) < math.Abs(best-left)) {
			best, found = right, true
		}
	}
	if !found {
		return w, false
	}
	w = Wheels{Left: left, Right: best, Ideal: Ideal(of, left)}
	w.Radius = of.WheelbaseMM / math.Tan(Between(w.Left, w.Right))
	return w, true
}

// Ideal gives the angle of the right wheel at which both roll about one point, for that of the left one.
func Ideal(of *setup.Steers, left float64) float64 { return Beside(left, of.TrackMM, of.WheelbaseMM) }

// Beside gives the angle of a wheel that rolls about the same point as another one, so far to its right, on
// an axle so far ahead of one that does not steer; degrees to the right, millimetres:
// cot(outer) − cot(inner) = track / wheelbase. Ackermann's condition; Gillespie, Fundamentals of Vehicle
// Dynamics, from memory.
func Beside(deg, right, wheelbase float64) float64 {
	if deg == 0 {
		return 0
	}
	way := math.Copysign(1, deg)
	cot := 1/math.Tan(deg*math.Pi/180) - right/wheelbase
	return way * math.Atan2(1, way*cot) * 180 / math.Pi
}

// Between gives the angle of a wheel in the middle of an axle, in radians, from those of its two wheels, in
// degrees: its cotangent is the mean of theirs.
func Between(left, right float64) float64 {
	if left == 0 || right == 0 {
		return 0
	}
	return math.Atan(2 / (1/math.Tan(left*math.Pi/180) + 1/math.Tan(right*math.Pi/180)))
}
