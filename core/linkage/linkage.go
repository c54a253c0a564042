// Package linkage works out what lies between the shaft of a servo and the part that it moves: rods to a
// horn, wires that pull, cranks that move what slides or the spool of a valve, and pairs of steered wheels.
//
// The shaft is at (0, 0), the hinge of the part at (along, aside), millimetres; angles are degrees clockwise
// from square, which is across the line along which along is measured. A position is that of the servo in
// percent, as ends and centres are. The part stands at 0 where it is straight (its horn at horn_deg), or
// where it is while the servo stands in the middle, and goes to + with the servo.
package linkage

import (
	"math"

	"axtren/core/setup"
)

// Most is the furthest position that is looked at, percent.
const Most = 150

// Point is a place, millimetres: along, and aside.
type Point [2]float64

func (p Point) minus(q Point) Point   { return Point{p[0] - q[0], p[1] - q[1]} }
func (p Point) plus(q Point) Point    { return Point{p[0] + q[0], p[1] + q[1]} }
func (p Point) times(v float64) Point { return Point{p[0] * v, p[1] * v} }
func (p Point) dot(q Point) float64   { return p[0]*q[0] + p[1]*q[1] }
func (p Point) length() float64       { return math.Hypot(p[0], p[1]) }

// Pose is a linkage at one position.
type Pose struct {
	Arm  Point   // the hole in the arm
	End  Point   // the hole in the horn, or the pin of what slides
	Part float64 // where the part is: degrees, or millimetres; of a spool how far the valve is open, percent
	// how much the part moves for the shaft: degrees for a degree, or millimetres for a radian
	Ratio float64
	Play  float64 // of what wires pull, degrees; below 0 they are too tight by so much
}

// Linkage is one that can be worked out.
type Linkage struct {
	Low, High Limit // how far it can be moved from the middle to − and to +

	of    *setup.Linkage
	hinge Point
	rod   float64
	wires [2]float64 // of the hole of the arm, and of the other
	first branch     // how the horn lies, of two ways
	sense float64
	zero  float64 // of the part
}

// branch is on which side of the line from the hinge to the arm the horn lies: of two ways to put it on.
type branch float64

// turned gives a direction, degrees clockwise from square.
func turned(deg float64) Point {
	sin, cos := math.Sincos(deg * math.Pi / 180)
	return Point{sin, cos}
}

// New reads a linkage. The problem is a length that is missing, or a rod that cannot be
// put on in the middle, with the nearest that can.
func New(of *setup.Linkage) (*Linkage, *setup.Problem) {
	l, problem := read(of)
	if problem == nil {
		l.Low, l.High = l.reach(-1), l.reach(1)
	}
	return l, problem
}

func read(of *setup.Linkage) (*Linkage, *setup.Problem) {
	l := &Linkage{of: of, hinge: Point{of.AlongMM, of.AsideMM}, sense: 1}
	arm := l.armAt(0)
	switch of.Kind {
	case "slide", "spool":
		if of.Kind == "spool" && of.OpenMM > 0 && of.OpenMM <= of.OverlapMM {
			return nil, missing("open_mm", of.OpenMM, "the valve would be fully open before its spool has left "+
				"the overlap", "write more than the overlap")
		}
		if of.Kind == "slide" && of.RodMM == nil {
			return nil, missing("rod_mm", 0, "a crank moves what slides by a rod, and its length is not said",
				"measure it from hole to hole")
		}
		if of.RodMM != nil {
			l.rod = *of.RodMM
			if off := math.Abs(arm[1] - of.AsideMM); off > l.rod {
				return nil, missing("rod_mm", l.rod, "the rod does not reach from the arm to the line on which "+
					"it slides", "it has to be "+length(off)+" at least")
			}
		}
		l.zero = l.slid(0)
		return l, nil
	}
	if of.HornMM == 0 {
		return nil, missing("horn_mm", 0, "the part has no horn", "measure from its hinge to the hole in the horn")
	}
	if l.hinge.length() == 0 {
		return nil, missing("along_mm", 0, "the hinge would be on the shaft of the servo",
			"measure how far it is from the shaft, along and aside")
	}
	straight := l.hornAt(of.HornDeg)
	l.zero = of.HornDeg
	if of.Kind == "pull_pull" {
		other := l.hinge.plus(l.hinge.minus(straight))
		l.wires = [2]float64{straight.minus(arm).length(), other.plus(arm).length()}
		return l, nil
	}
	l.rod = straight.minus(arm).length()
	if of.RodMM != nil {
		l.rod = *of.RodMM
	}
	if l.rod == 0 {
		return nil, missing("rod_mm", 0, "both holes would be at the same place", "measure the distances again")
	}
	l.first = 1
	up, ok := l.horn(0, 1)
	down, _ := l.horn(0, -1)
	if !ok {
		least, most := l.rods(0)
		return nil, missing("rod_mm", l.rod, "this rod cannot be put on while the servo stands in the middle",
			"it has to be between "+length(least)+" and "+length(most))
	}
	if math.Abs(wrap(down-of.HornDeg)) < math.Abs(wrap(up-of.HornDeg)) {
		l.first = -1
	}
	if r := l.ratio(0); r < 0 {
		l.sense = -1
	}
	return l, nil
}

func missing(field string, value float64, message, remedy string) *setup.Problem {
	text := ""
	if value != 0 {
		text = number(value)
	}
	return &setup.Problem{Path: "linkage." + field, Value: text, Message: message, Remedy: remedy}
}

// slides tells whether the part slides instead of turning.
func (l *Linkage) slides() bool { return l.of.Kind == "slide" || l.of.Kind == "spool" }

// shaft gives the angle of the arm at a position.
func (l *Linkage) shaft(position float64) float64 { return l.of.ArmDeg + position/100*l.of.ThrowDeg }

func (l *Linkage) armAt(position float64) Point { return turned(l.shaft(position)).times(l.of.ArmMM) }

// hornAt gives the hole of the horn at an angle of the horn.
func (l *Linkage) hornAt(deg float64) Point {
	u := turned(deg)
	if l.of.Opposite {
		u[1] = -u[1]
	}
	return l.hinge.plus(u.times(l.of.HornMM))
}

// rods gives the shortest and the longest rod that can be put on at a position.
func (l *Linkage) rods(position float64) (least, most float64) {
	d := l.hinge.minus(l.armAt(position)).length()
	return math.Abs(d - l.of.HornMM), d + l.of.HornMM
}

// horn gives the angle of the horn at a position, of two ways to put the rod on; ok is false where the rod
// does not reach. With q from the hole of the arm to the hinge and u along the horn, |q + b u|² = rod², so
// q·u = (rod² − b² − q²) / 2b.
func (l *Linkage) horn(position float64, way branch) (deg float64, ok bool) {
	return hornOf(l.hinge.minus(l.armAt(position)), l.of.HornMM, l.rod, l.of.Opposite, way)
}

func hornOf(q Point, horn, rod float64, opposite bool, way branch) (deg float64, ok bool) {
	if opposite {
		q[1] = -q[1]
	}
	r := q.length()
	cos := (rod*rod - horn*horn - r*r) / (2 * horn * r)
	if math.IsNaN(cos) || math.Abs(cos) > 1+1e-12 {
		return 0, false
	}
	cos = min(max(cos, -1), 1)
	return (math.Atan2(q[0], q[1]) + float64(way)*math.Acos(cos)) * 180 / math.Pi, true
}

// wrap brings an angle to −180 … 180 degrees.
func wrap(deg float64) float64 { return math.Remainder(deg, 360) }

// slid gives how far along the pin of what slides is.
func (l *Linkage) slid(position float64) float64 {
	arm := l.armAt(position)
	if l.rod == 0 { // a spool without a rod of its own: it moves as far as the hole of the arm does
		return arm[0]
	}
	off := arm[1] - l.of.AsideMM
	return arm[0] + math.Sqrt(l.rod*l.rod-off*off)
}

// At gives the pose at a position; ok is false where the rod does not reach there.
func (l *Linkage) At(position float64) (pose Pose, ok bool) {
	pose.Arm = l.armAt(position)
	switch l.of.Kind {
	case "slide", "spool":
		x := l.slid(position)
		if math.IsNaN(x) {
			return pose, false
		}
		pose.End = Point{x, l.of.AsideMM}
		if l.rod == 0 {
			pose.End[1] = pose.Arm[1]
		}
		pose.Part = x - l.zero
		pose.Ratio = l.ratio(position)
		if l.of.Kind == "spool" {
			pose.Part = l.opening(pose.Part)
		}
	case "pull_pull":
		return l.pulled(position)
	default:
		deg, ok := l.horn(position, l.first)
		if !ok {
			return pose, false
		}
		pose.End = l.hornAt(deg)
		pose.Part = l.sense * wrap(deg-l.zero)
		pose.Ratio = l.sense * l.ratio(position)
	}
	return pose, true
}

// opening gives how far a valve is open, percent, by how far its spool has moved.
func (l *Linkage) opening(mm float64) float64 {
	open := max(math.Abs(mm)-l.of.OverlapMM, 0)
	if l.of.OpenMM > 0 {
		open = min(open/(l.of.OpenMM-l.of.OverlapMM), 1) * 100
	}
	return math.Copysign(open, mm)
}

// ratio gives how much the horn turns for the shaft, degrees for a degree: of |H − A|² = rod² the derivative
// by the shaft over that by the horn. What slides moves millimetres for a radian.
func (l *Linkage) ratio(position float64) float64 {
	arm := l.armAt(position)
	across := Point{arm[1], -arm[0]} // how its hole moves
	if l.slides() {
		if l.rod == 0 {
			return across[0]
		}
		off := arm[1] - l.of.AsideMM
		return across[0] - off*across[1]/math.Sqrt(l.rod*l.rod-off*off)
	}
	deg, ok := l.horn(position, l.first)
	if !ok {
		return math.NaN()
	}
	return ratioOf(arm, l.hornAt(deg), l.hinge, l.of.Opposite)
}

func ratioOf(arm, end, hinge Point, opposite bool) float64 {
	rod, horn := end.minus(arm), end.minus(hinge)
	moves := Point{horn[1], -horn[0]}
	if opposite {
		moves = moves.times(-1)
	}
	return rod.dot(Point{arm[1], -arm[0]}) / rod.dot(moves)
}

// pulled works out two wires from a double arm to a double horn, both taut in the middle. A wire can only
// pull: that on the hole of the arm keeps the horn from going further to +, the other from going further to
// −. Loaded, the part stands where the wire that pulls it holds it; between the two it has play.
func (l *Linkage) pulled(position float64) (pose Pose, ok bool) {
	pose.Arm = l.armAt(position)
	upper, ok := hornOf(l.hinge.minus(pose.Arm), l.of.HornMM, l.wires[0], l.of.Opposite, -1)
	lower, also := hornOf(l.hinge.plus(pose.Arm), l.of.HornMM, l.wires[1], l.of.Opposite, 1)
	if !ok || !also {
		return pose, false
	}
	high, low := wrap(upper-l.zero), wrap(lower-180-l.zero)
	pose.Play = high - low
	// how much each wire turns the horn for the shaft, where it is taut
	end := l.hornAt(high + l.zero)
	first := ratioOf(pose.Arm, end, l.hinge, l.of.Opposite)
	end = l.hornAt(low + l.zero)
	second := ratioOf(pose.Arm.times(-1), l.hinge.plus(l.hinge.minus(end)), l.hinge, l.of.Opposite)
	switch {
	case pose.Play < 0:
		pose.Part, pose.Ratio = (high+low)/2, (first+second)/2
	case position >= 0:
		pose.Part, pose.Ratio = low, second
	default:
		pose.Part, pose.Ratio = high, first
	}
	pose.End = l.hornAt(pose.Part + l.zero)
	return pose, true
}
