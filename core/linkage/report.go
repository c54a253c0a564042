package linkage

import (
	"fmt"
	"math"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// Figure is something that a linkage tells, with the arithmetic behind it.
type Figure struct {
	Title string   `json:"title"`
	Says  string   `json:"says"`  // the figure with its unit
	Note  string   `json:"note"`  // what stands against it, and what cures it; empty for nothing
	Why   []string `json:"why"`   // the arithmetic, line by line
	Wrong bool     `json:"wrong"` // it is not as it is wanted
}

// Drawn is a linkage at one position, as it is drawn.
type Drawn struct {
	Position float64 `json:"position"` // percent
	Arm      Point   `json:"arm"`
	End      Point   `json:"end"`
	Part     float64 `json:"part"`
	Beyond   bool    `json:"beyond"` // past where it can be moved
}

// Report is all that a linkage tells of a function.
type Report struct {
	Kind    string   `json:"kind"`
	Unit    string   `json:"unit"` // of the part: °, mm, or % of a valve
	Hinge   Point    `json:"hinge"`
	Arm     float64  `json:"arm"` // mm, as Horn; 0 where there is none
	Horn    float64  `json:"horn"`
	Rod     float64  `json:"rod"`   // or the first wire, taut
	Poses   []Drawn  `json:"poses"` // from − to +
	Figures []Figure `json:"figures"`
	// the ends for what is wanted, percent; nil where it is not reached
	WishLow  *float64 `json:"wish_low,omitempty"`
	WishHigh *float64 `json:"wish_high,omitempty"`
	Fields   []string `json:"fields"` // those of the document that count for its kind
	Lacks    string   `json:"lacks"`  // why nothing can be worked out, and the nearest that can
}

// fields are those that count for each kind.
var fields = map[string][]string{
	"rod": {"kind", "arm_mm", "arm_deg", "throw_deg", "along_mm", "aside_mm", "horn_mm", "horn_deg",
		"opposite", "rod_mm", "stop_low", "stop_high", "wish", "needs_nm", "steers"},
	"pull_pull": {"kind", "arm_mm", "arm_deg", "throw_deg", "along_mm", "aside_mm", "horn_mm", "horn_deg",
		"opposite", "stop_low", "stop_high", "wish", "needs_nm"},
	"slide": {"kind", "arm_mm", "arm_deg", "throw_deg", "aside_mm", "rod_mm", "stop_low", "stop_high", "wish",
		"needs_n"},
	"spool": {"kind", "arm_mm", "arm_deg", "throw_deg", "rod_mm", "aside_mm", "overlap_mm", "open_mm",
		"needs_n"},
}

// drawnEvery is how far the drawn poses are apart, percent.
const drawnEvery = 2

// Sides are what the ways to − and to + are called, as "to port" and "to starboard".
type Sides struct {
	Minus, Plus string
	Left        bool // + is to the left: of wheels, whose angles are to the right
}

// Of tells what the linkage of an output does; nil where it has none. servo is the one that moves it, nil
// where that is not known.
func Of(o *setup.Output, servo *setup.Servo, sides Sides) *Report {
	of := o.Linkage
	if of == nil {
		return nil
	}
	if sides.Minus == "" {
		sides = Sides{Minus: "to −", Plus: "to +"}
	}
	r := &reporter{o: o, of: of, servo: servo, sides: sides,
		Report: Report{Kind: of.Kind, Unit: "°", Arm: of.ArmMM, Horn: of.HornMM, Hinge: Point{of.AlongMM,
			of.AsideMM}, Poses: []Drawn{},
			Figures: []Figure{}, Fields: fields[of.Kind]}}
	switch {
	case of.Kind == "spool" && of.OpenMM > 0:
		r.Unit = " %"
	case of.Kind == "slide" || of.Kind == "spool":
		r.Unit = " mm"
	}
	l, err := New(of)
	if err != nil {
		r.Lacks = words.Capital(err.Message) + ": " + err.Remedy + "."
		return &r.Report
	}
	r.l, r.Rod = l, l.rod
	if of.Kind == "pull_pull" {
		r.Rod = l.wires[0]
	}
	for at := -float64(Most); at <= Most; at += drawnEvery {
		if pose, ok := l.At(at); ok {
			r.Poses = append(r.Poses, Drawn{at, pose.Arm, pose.End, pose.Part,
				at < r.l.Low.Position || at > r.l.High.Position})
		}
	}
	r.wishes()
	r.most()
	r.ends()
	r.middle()
	r.difference()
	r.dead()
	r.play()
	r.force()
	r.steers()
	return &r.Report
}

type reporter struct {
	Report
	o     *setup.Output
	of    *setup.Linkage
	servo *setup.Servo
	sides Sides
	l     *Linkage
}

func (r *reporter) add(f Figure) {
	if f.Why == nil {
		f.Why = []string{}
	}
	r.Figures = append(r.Figures, f)
}

// whyWords says why a way ends.
var whyWords = map[string]string{
	Binds: "the rod reaches no further", Turns: "there the arm goes over centre and the part comes back",
	Stops: "there the part meets its stop", Tight: "there the wires are too tight",
	Round: "there the part would be turned right round", Beyond: "no transmitter sends more",
}

// number writes a figure to a tenth, without one that is 0.
func number(v float64) string { return words.Short(math.Round(v*10) / 10) }

// length writes a length.
func length(mm float64) string { return number(mm) + " mm" }

// part writes where the part is.
func (r *reporter) part(v float64) string { return number(math.Abs(v)) + r.Unit }

// at writes a position.
func at(position float64) string { return words.SignedShort(math.Round(position*10) / 10) }

// wishes tells at which end the part stands where it is wanted, to either side.
func (r *reporter) wishes() {
	if r.of.Wish == 0 || r.of.Kind == "spool" {
		return
	}
	for _, side := range []struct {
		sign  float64
		name  string
		limit Limit
	}{{-1, r.sides.Minus, r.l.Low}, {1, r.sides.Plus, r.l.High}} {
		f := Figure{Title: "For " + r.part(r.of.Wish) + " " + side.name}
		if position, ok := r.l.Position(side.sign * r.of.Wish); ok {
			pose, _ := r.l.At(position)
			f.Says = at(position)
			if tenth := math.Round(position*10) / 10; side.sign < 0 {
				r.WishLow = &tenth
			} else {
				r.WishHigh = &tenth
			}
			f.Why = []string{fmt.Sprintf("at %s the arm stands %s° from square", at(position),
				number(r.l.shaft(position))), fmt.Sprintf("from there the part stands %s from "+
				"straight", r.part(pose.Part))}
		} else {
			f.Says, f.Wrong = "not reached", true
			f.Note = fmt.Sprintf("at most %s, at %s: %s; a longer arm or a shorter horn goes further",
				r.part(side.limit.Part), at(side.limit.Position), whyWords[side.limit.Why])
			if r.of.Kind == "slide" {
				f.Note = strings.Replace(f.Note, "a longer arm or a shorter horn", "a longer arm", 1)
			}
		}
		r.add(f)
	}
}

// most tells how far it can be moved at all.
func (r *reporter) most() {
	if r.of.Kind == "spool" {
		return
	}
	f := Figure{Title: "It can be moved", Says: fmt.Sprintf("%s %s, %s %s", r.part(r.l.Low.Part), r.sides.Minus,
		r.part(r.l.High.Part), r.sides.Plus)}
	for _, one := range []Limit{r.l.Low, r.l.High} {
		f.Why = append(f.Why, fmt.Sprintf("up to %s: %s", at(one.Position), whyWords[one.Why]))
	}
	r.add(f)
}

// ends tells where the ends that are set bring the part, and what is wrong with them.
func (r *reporter) ends() {
	var says, notes []string
	for _, end := range []struct {
		position float64
		name     string
		limit    Limit
	}{{r.o.Low, r.sides.Minus, r.l.Low}, {r.o.High, r.sides.Plus, r.l.High}} {
		if math.Abs(end.position) > math.Abs(end.limit.Position)+1e-6 {
			says = append(says, r.part(end.limit.Part)+" "+end.name)
			notes = append(notes, fmt.Sprintf("the end at %s is beyond %s, where %s", at(end.position),
				at(end.limit.Position), strings.TrimPrefix(whyWords[end.limit.Why], "there ")))
			continue
		}
		pose, _ := r.l.At(end.position)
		says = append(says, r.part(pose.Part)+" "+end.name)
	}
	r.add(Figure{Title: fmt.Sprintf("At the ends that are set, %s and %s", at(r.o.Low), at(r.o.High)),
		Says: strings.Join(says, ", "), Note: strings.Join(notes, "; "), Wrong: notes != nil})
}

// straightWithin is how far off straight a part may stand in the middle, degrees or millimetres.
const straightWithin = 0.5

// middle tells how the part stands while the servo stands at its centre.
func (r *reporter) middle() {
	pose, ok := r.l.At(r.o.Centre)
	if !ok || r.l.slides() || math.Abs(pose.Part) < straightWithin {
		return
	}
	f := Figure{Title: fmt.Sprintf("With the centre at %s it stands off straight by", at(r.o.Centre)),
		Says: r.part(pose.Part), Wrong: true}
	if position, ok := r.l.Position(0); ok {
		f.Note = fmt.Sprintf("straight at %s", at(position))
	}
	if r.of.RodMM != nil {
		fitted := *r.of
		fitted.RodMM = nil
		if l, err := New(&fitted); err == nil {
			f.Note += ", or with a rod of " + length(l.rod)
		}
	}
	f.Note = strings.TrimPrefix(f.Note, ", or ")
	r.add(f)
}

// even is from which difference of both sides on something is to be cured, degrees or millimetres.
const even = 1

// difference tells how unevenly both sides move, and what would cure it.
func (r *reporter) difference() {
	if r.of.Kind == "spool" || r.l.Low.Why == Stops && r.l.High.Why == Stops {
		return
	}
	p := min(-r.l.Low.Position, r.l.High.Position, math.Abs(r.o.Low), math.Abs(r.o.High))
	off, ok := uneven(r.l, p)
	if !ok {
		return
	}
	f := Figure{Title: "Both sides differ by", Says: r.part(off)}
	minus, _ := r.l.At(-p)
	plus, _ := r.l.At(p)
	f.Why = []string{fmt.Sprintf("at %s: %s %s", at(-p), r.part(minus.Part), r.sides.Minus),
		fmt.Sprintf("at %s: %s %s", at(p), r.part(plus.Part), r.sides.Plus)}
	if f.Wrong = off >= even; f.Wrong {
		f.Note = r.evener(p, off)
	}
	r.add(f)
}

// uneven gives how much both sides differ at the same distance from the middle.
func uneven(l *Linkage, p float64) (float64, bool) {
	minus, ok := l.At(-p)
	plus, also := l.At(p)
	return math.Abs(math.Abs(plus.Part) - math.Abs(minus.Part)), ok && also
}

// evener tries the arm on other splines; a rod to a horn is made to fit.
func (r *reporter) evener(p, off float64) string {
	spline := 1.0
	if r.servo != nil && r.servo.Splines > 0 {
		spline = 360 / float64(r.servo.Splines)
	}
	best, by := off, 0
	for k := -int(30 / spline); k <= int(30/spline); k++ {
		tried := *r.of
		tried.ArmDeg += float64(k) * spline
		if tried.Kind == "rod" {
			tried.RodMM = nil
		}
		l, err := New(&tried)
		if err != nil {
			continue
		}
		if differ, ok := uneven(l, p); ok && differ < best-0.05 && -l.Low.Position >= p && l.High.Position >= p {
			best, by = differ, k
		}
	}
	if by == 0 {
		return "no other place of the arm makes them more equal; make the ends unequal"
	}
	way := "to +"
	if by < 0 {
		way = "to −"
	}
	how := fmt.Sprintf("%s of the arm %s", words.Count(max(by, -by), "spline", "splines"), way)
	if spline == 1 {
		how = fmt.Sprintf("the arm turned %d° %s", max(by, -by), way)
	}
	if r.of.Kind == "rod" {
		how += ", with the rod made to fit,"
	}
	return fmt.Sprintf("%s would leave %s", how, r.part(best))
}

// dead tells how far the servo goes before a valve opens.
func (r *reporter) dead() {
	if r.of.Kind != "spool" {
		return
	}
	low, high := r.l.Dead()
	r.add(Figure{Title: "Nothing moves between", Says: at(low) + " and " + at(high),
		Note: "let the curve of the lever begin there",
		Why: []string{fmt.Sprintf("the spool has to go %s before anything flows", length(r.of.OverlapMM)),
			fmt.Sprintf("the arm of %s moves it by its sine", length(r.of.ArmMM))}})
	if r.of.OpenMM == 0 {
		return
	}
	f := Figure{Title: "Fully open at"}
	var says []string
	for _, side := range []float64{-1, 1} {
		position, ok := r.l.Open(side)
		if !ok {
			f.Wrong = true
			pose, _ := r.l.At(side * Most)
			says = append(says, fmt.Sprintf("not reached: %s at %s", r.part(pose.Part), at(side*Most)))
			continue
		}
		says = append(says, at(position))
	}
	f.Says = strings.Join(says, " and ")
	r.add(f)
}

// play tells how loose or tight wires become.
func (r *reporter) play() {
	if r.of.Kind != "pull_pull" {
		return
	}
	loose, tight := 0.0, 0.0
	var looseAt, tightAt float64
	for p := max(r.o.Low, r.l.Low.Position); p <= min(r.o.High, r.l.High.Position); p++ {
		pose, ok := r.l.At(p)
		if !ok {
			continue
		}
		if pose.Play > loose {
			loose, looseAt = pose.Play, p
		}
		if pose.Play < tight {
			tight, tightAt = pose.Play, p
		}
	}
	f := Figure{Title: "The wires", Says: "stay taut"}
	switch {
	case tight < -0.05:
		f.Says, f.Wrong = "get too tight by "+r.part(tight)+" at "+at(tightAt), true
		f.Note = "make the horn as long as the arm, or move its holes towards the servo"
	case loose > 0.05:
		f.Says = "leave the part up to " + r.part(loose) + " of play, at " + at(looseAt)
		if f.Wrong = loose > even; f.Wrong {
			f.Note = "make the horn as long as the arm, both square"
		}
	}
	r.add(f)
}

// force tells what torque the servo needs, by virtual work: what the part needs times what it moves for the
// shaft.
func (r *reporter) force() {
	needs := r.of.NeedsNM
	if r.l.slides() {
		needs = r.of.NeedsN
	}
	if needs == 0 {
		return
	}
	most, where := 0.0, 0.0
	for p := max(r.o.Low, r.l.Low.Position); p <= min(r.o.High, r.l.High.Position); p++ {
		if pose, ok := r.l.At(p); r.l.ends(pose, ok) == "" && pose.Ratio > most {
			most, where = pose.Ratio, p
		}
	}
	torque := needs * most
	why := []string{fmt.Sprintf("%s N·m at the hinge, and at %s the part turns %s° for 1° of the shaft",
		fine(needs), at(where), fine(most)), fmt.Sprintf("%s × %s", fine(needs), fine(most))}
	if r.l.slides() {
		torque /= 1000
		why = []string{fmt.Sprintf("%s N, and at %s it slides %s mm for a radian (57.3°) of the shaft", fine(needs),
			at(where), fine(most)), fmt.Sprintf("%s N × %s mm", fine(needs), fine(most))}
	}
	why[1] += fmt.Sprintf(" = %s N·m; friction comes on top", fine(torque))
	f := Figure{Title: "Torque needed at the servo", Says: fine(torque) + " N·m", Why: why}
	if r.servo != nil && r.servo.TorqueNM > 0 {
		f.Note = "the servo gives " + fine(r.servo.TorqueNM)
		if f.Wrong = torque > r.servo.TorqueNM; f.Wrong {
			f.Note += ": a shorter arm or a longer horn, or a stronger servo"
		}
	}
	r.add(f)
}

// fine writes a figure with two decimals where it needs them.
func fine(v float64) string {
	return strings.TrimSuffix(strings.TrimRight(fmt.Sprintf("%.2f", v), "0"), ".")
}

// offIdeal is how far a wheel may be off the ideal before it is told as wrong, degrees (our choice).
const offIdeal = 3

// steers tells how both wheels stand at the ends, against the ideal, and the circles they turn.
func (r *reporter) steers() {
	if r.of.Steers == nil || r.l.slides() {
		return
	}
	for _, end := range []struct {
		position float64
		name     string
	}{{max(r.o.Low, r.l.Low.Position), r.sides.Minus}, {min(r.o.High, r.l.High.Position), r.sides.Plus}} {
		pose, ok := r.l.At(end.position)
		if r.sides.Left {
			pose.Part = -pose.Part
		}
		wheels, reaches := Steer(r.of.Steers, pose.Part)
		f := Figure{Title: "Wheels at the end " + end.name}
		if !ok || !reaches {
			f.Says, f.Wrong = "the rod between the wheels does not reach", true
			f.Note = "shorter arms, or arms that point less inward"
			r.add(f)
			continue
		}
		f.Says = fmt.Sprintf("left %s°, right %s°", number(wheels.Left), number(wheels.Right))
		off := math.Abs(wheels.Right - wheels.Ideal)
		f.Note = fmt.Sprintf("ideal for the left one: right %s°", number(wheels.Ideal))
		f.Wrong = off > offIdeal
		f.Why = []string{fmt.Sprintf("cot(outer) − cot(inner) = track ÷ wheelbase = %s ÷ %s = %s",
			number(r.of.Steers.TrackMM), number(r.of.Steers.WheelbaseMM),
			fine(r.of.Steers.TrackMM/r.of.Steers.WheelbaseMM))}
		r.add(f)
		if !math.IsInf(wheels.Radius, 0) {
			r.add(Figure{Title: "Turning circle " + end.name, Says: number(2*math.Abs(wheels.Radius)/1000) + " m " +
				"across",
				Note: "of the middle of the axle behind",
				Why: []string{fmt.Sprintf("radius = wheelbase × mean cotangent of both wheels = %s × %s = %s",
					length(r.of.Steers.WheelbaseMM), fine(math.Abs(wheels.Radius)/r.of.Steers.WheelbaseMM),
					length(math.Abs(wheels.Radius)))}})
		}
	}
}
