package bench

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/sheet"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Procedure is a walk as a person goes it: what has to be safe, then one step after the other.
type Procedure struct {
	Safe   []string `json:"safe"`   // once, before the first step
	Taught []string `json:"taught"` // what must have learned what is sent, before it is tried
	Steps  []Step   `json:"steps"`
	Walk   *Walk    `json:"-"` // what it shows
}

// Wish says which walk is asked for.
type Wish struct {
	Whole bool       // every control alone to each of its ends besides
	Only  []setup.ID // the devices that are tried, at every step; nil: all
}

// Step is one thing that a person tries.
type Step struct {
	When  When     `json:"when"`
	Does  []string `json:"does"`   // what hands do, one sentence after the other
	Holds string   `json:"holds"`  // how all then stands that is not at rest; empty: hands off
	Parts []Part   `json:"parts"`  // what must be seen
	Rest  string   `json:"rest"`   // of all other parts; empty: there is none
	Shows int      `json:"shows"`  // single faults that are to be seen here
	FromS float64  `json:"from_s"` // when it begins in the script of the walk, seconds
	AtS   float64  `json:"at_s"`   // when a person looks
}

// OfRest is all that a step does not name.
const OfRest = "rest"

// Looked lists what there is to look at in a step: its parts, and the rest where there is one.
func (step *Step) Looked() (list []string) {
	for i := range step.Parts {
		list = append(list, step.Parts[i].Of)
	}
	if step.Rest != "" {
		list = append(list, OfRest)
	}
	return list
}

// Part is something to look at.
type Part struct {
	Of      string `json:"of"` // devices/port, or outputs/whistle where nothing is plugged in
	Label   string `json:"label"`
	Should  string `json:"should"`  // what it must do
	Channel int    `json:"channel"` // whose display is read; 0: none
	Display string `json:"display"` // what that must read, as this transmitter counts
}

// Steps works out how a person tries a model, or some of its devices: with the fewest looks that show every
// single fault, or whole, with every control alone to each of its ends besides; then the transmitter is
// switched off and on, and the model. The errors are those of Find.
func Steps(ctx context.Context, s *setup.Setup, wish Wish, budget proof.Budget) (*Procedure, error) {
	w, err := newWorlds(s, wish.Only)
	if err != nil {
		return nil, err
	}
	k := newWalker(ctx, s, w, budget)
	k.hands = 2
	plan := k.plan()
	if errors.Is(ctx.Err(), context.Canceled) {
		return nil, ctx.Err()
	}
	if wish.Whole {
		plan = append(k.each(), plan...)
	}
	t := k.carryOut(k.powered(plan))
	if !wish.Whole {
		t = k.fewer(t)
	}
	walk := k.walk(t)
	k.whys(walk)
	if !wish.Whole {
		walk.Least = looks(k.powered(nil))
	}
	return &Procedure{Safe: sheet.Cautions(s), Taught: taught(w.right), Steps: k.told(walk), Walk: walk}, nil
}

// taught says of what has a travel of its own, a controller, a receiver or a module, whether it has learned
// what is sent.
func taught(p *signal.Program) []string {
	s, list, agree, seen := p.Setup(), []string{}, []string{}, map[string]bool{}
	for o := range s.Outputs {
		learners, err := travel.Learners(p, o)
		if err != nil {
			continue // nothing is sent to it by itself
		}
		for i := range learners {
			one := &learners[i]
			key, name := one.Key, one.Name
			if one.Kind == "receiver" { // which learns each channel by itself
				key, name = key+"/"+string(s.Outputs[o].ID), name+", of "+s.OutputLabel(o)+","
			}
			switch {
			case seen[key]:
			case one.Agrees:
				agree = append(agree, name)
			default:
				var has, gets []string
				for _, place := range one.Places {
					has = append(has, fmt.Sprintf("%.0f", place.Learned))
					gets = append(gets, fmt.Sprintf("%.0f", place.Sent))
				}
				list = append(list, fmt.Sprintf("%s has learned %s µs, and %s µs is sent. Let it learn that if it is to "+
					"reach all of its travel.", name, words.And(has), words.And(gets)))
			}
			seen[key] = true
		}
	}
	if len(agree) > 0 {
		list = append(list, words.Capital(words.And(agree))+" must have learned what is sent. Let one "+
			"learn it that is new, or whose ends were changed, before it is tried.")
	}
	if len(list) > 0 {
		list = append(list, "Functions tells how, step by step.")
	}
	return list
}

// Script is the run of all steps.
func (p *Procedure) Script() string { return proof.Script(p.Walk.Rows) }

// playedS is how long a step is played after its look, seconds.
const playedS = 1.5

// Upto gives the part of the script of all steps that plays one of them, by when a person looks then.
func Upto(script string, atS float64) string {
	var b strings.Builder
	last := "link,up"
	for n, line := range strings.Split(strings.TrimSpace(script), "\n") {
		t, moved, _ := strings.Cut(line, ",")
		if at, err := strconv.ParseFloat(t, 64); n > 0 && (err != nil || at > atS+1e-9) {
			break
		}
		if n > 0 {
			last = moved
		}
		b.WriteString(line + "\n")
	}
	fmt.Fprintf(&b, "%.3f,%s\n", atS+playedS, last) // so long it goes on
	return b.String()
}

// looks counts those of a plan.
func looks(plan []stop) (n int) {
	for i := range plan {
		if plan[i].look {
			n++
		}
	}
	return n
}

// powered is a plan after which the transmitter is switched off and on, and then the model: as all stands,
// and with the hands as the transmitter wants them before it wakes.
func (k *walker) powered(plan []stop) []stop {
	list := slices.Clone(plan)
	hands := slices.Clone(k.w.first)
	if n := len(list); n > 0 {
		hands = slices.Clone(list[n-1].hands)
	}
	off := slices.Clone(hands)
	off[k.hand("transmitter")] = 0
	ready := slices.Clone(k.w.first)
	ready[k.hand("transmitter")] = 0
	on := slices.Clone(k.w.first)
	list = append(list, stop{hands: off, look: true, when: Lost},
		stop{hands: ready, pause: k.frames(stillS)}, stop{hands: on, look: true, when: Back})
	dead := slices.Clone(k.w.first)
	for i := range k.s.Receivers {
		dead[k.hand(string(k.s.Receivers[i].ID))] = 0
	}
	if len(k.s.Receivers) > 0 {
		list = append(list, stop{hands: dead, look: true, when: Off}, stop{hands: on, look: true, when: On})
	}
	return list
}

// mostTogether bounds the looks at controls with a switch held elsewhere.
const mostTogether = 300

// each is a plan with every control alone at each of its places, and back; then the same once more with every
// switch that stays at each of its other places, of the controls that it has a function in common with:
// what it
// lets through, locks or changes is tried both ways, a lock also in the order that it forbids.
func (k *walker) each() []stop {
	first := k.w.first
	blocks := [][]stop{append([]stop{{hands: slices.Clone(first), look: true}}, k.ends(first, -1)...)}
	left := mostTogether
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		if c.Switch == nil || c.Springs() {
			continue
		}
		for _, v := range places(c, false) {
			held := slices.Clone(first)
			held[i] = v
			ends := k.ends(held, i)
			if v == first[i] || len(ends) > left {
				continue
			}
			left -= len(ends)
			block := append([]stop{{hands: held, pause: k.frames(stillS)}}, ends...)
			blocks = append(blocks, append(block, stop{hands: slices.Clone(first), pause: pressFrames}))
		}
	}
	return k.kept(blocks)
}

// ends are looks at every control at each of its places, one after the other, and back to how the hands were;
// with a switch, 0 or higher, only at controls that have a function in common with it. A button is pressed
// twice, so that what it sets is taken back, and as often as there are steps that it goes through.
func (k *walker) ends(from signal.Hands, with int) (list []stop) {
	back := stop{hands: slices.Clone(from), pause: pressFrames}
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		if i == with || with >= 0 && !k.together(setup.IsControl.At(i), setup.IsControl.At(with)) {
			continue
		}
		ends := places(c, false)
		if c.Axis != nil {
			ends = []float64{100, -100}
		}
		for _, v := range ends {
			if v == from[i] {
				continue
			}
			one := slices.Clone(from)
			one[i] = v
			list = append(list, stop{hands: one, look: true})
			for n := 1; c.Switch != nil && c.Springs() && n < k.presses(i); n++ {
				list = append(list, back, stop{hands: slices.Clone(one), look: true})
			}
		}
		list = append(list, back)
	}
	return list
}

// together tells whether two parts are behind one output.
func (k *walker) together(a, b setup.Item) bool {
	return slices.ContainsFunc(k.w.behind, func(behind map[setup.Item]bool) bool {
		return behind[a] &&
			behind[b]
	})
}

// presses is how often a button is pressed.
func (k *walker) presses(control int) int {
	n := 2
	for i := range k.s.Steppers {
		if k.together(setup.IsStepper.At(i), setup.IsControl.At(control)) {
			n = max(n, len(k.s.Steppers[i].Steps))
		}
	}
	return n
}

// kept leaves out what breaks a claim, and the blocks of which no look is left.
func (k *walker) kept(blocks [][]stop) (list []stop) {
	r := k.w.begin()
	r.step()
	all := make([]bool, len(k.w.faults))
	for _, block := range blocks {
		begins, looks := r.keep(), 0
		var own []stop
		for i := range block {
			before := r.keep()
			if fine, _ := k.play(r, &block[i], all); !fine {
				r.back(before)
				continue
			}
			own = append(own, block[i])
			if block[i].look {
				looks++
			}
		}
		if looks == 0 {
			r.back(begins)
			continue
		}
		list = append(list, own...)
	}
	return list
}

// fewer leaves out looks that show nothing that the others do not show, and movements that then do nothing.
func (k *walker) fewer(best *tried) *tried {
	for again := true; again && k.ctx.Err() == nil; {
		again = false
		for i := range best.plan {
			if best.plan[i].when != "" {
				continue
			}
			t := k.carryOut(slices.Delete(slices.Clone(best.plan), i, i+1))
			if again = t.fine && t.seen >= best.seen && (t.broken < 0 || best.broken >= 0); again {
				best = t
				break
			}
		}
	}
	return best
}

// told writes the steps of a walk.
func (k *walker) told(walk *Walk) []Step {
	sights := diagnose.SightsOf(k.w.right)
	list := []Step{}
	rest, hands := k.atRest(), k.w.right.Rest()
	before := rest
	from := 0
	for n := range walk.Looks {
		look := &walk.Looks[n]
		step := Step{When: look.When, Parts: []Part{}, Holds: k.holds(look.Hands)}
		then := from
		step.Does, from = k.does(walk.Rows, from, look, hands)
		was := []*Look{before}
		if from > then && walk.Rows[then].Frame != walk.Rows[from-1].Frame { // something was moved there and back
			was = append(was, rest)
		}
		step.Parts, step.Rest = k.parts(&sights, look, was)
		for f := range walk.Seen {
			if walk.Seen[f] == n {
				step.Shows++
			}
		}
		step.AtS = proof.Seconds(look.Frame, k.s)
		if n > 0 {
			step.FromS = proof.Seconds(walk.Looks[n-1].Frame, k.s)
		}
		list, before = append(list, step), look
	}
	return list
}

// parts lists what must be seen at a look, and what is said of all the rest: with the signal there what is
// otherwise than before, else every device; of a walk of some devices always these, and of the rest nothing.
func (k *walker) parts(sights *diagnose.Sights, look *Look, was []*Look) (list []Part, rest string) {
	list = []Part{}
	if look.When == Off {
		return list, "Nothing moves, and nothing is on."
	}
	others := false
	for d := range k.s.Devices {
		if !Lists(k.s, d) || k.w.only != nil && !k.w.only[d] {
			continue
		}
		if k.differs(d, look, was) || look.When != There || k.w.only != nil {
			list = append(list, k.part(sights, d, look))
		} else {
			others = true
		}
	}
	for o := range k.s.Outputs {
		if k.w.only != nil || len(k.s.Drives(o)) > 0 || look.Display[o] == was[0].Display[o] {
			continue
		}
		list = append(list, Part{Of: "outputs/" + string(k.s.Outputs[o].ID), Label: k.s.OutputLabel(o),
			Should: "has nothing plugged in", Channel: k.s.Outputs[o].Channel, Display: k.reading(look, o)})
	}
	switch {
	case others && len(list) > 0:
		return list, "All else stays as it was."
	case others:
		return list, "Nothing moves."
	}
	return list, ""
}

// atRest is what is seen with hands off, after power-on.
func (k *walker) atRest() *Look {
	r := k.w.begin()
	r.step()
	one := stop{hands: slices.Clone(k.w.first), look: true}
	k.play(r, &one, make([]bool, len(k.w.faults)))
	look := k.look(r, There)
	return &look
}

// holds says how sticks and switches stand that are not where they were at power-on.
func (k *walker) holds(hands signal.Hands) string {
	var list []string
	for i := range k.s.Transmitter.Controls {
		c := &k.s.Transmitter.Controls[i]
		if hands[i] == k.w.first[i] {
			continue
		}
		if c.Axis == nil || c.Stick == "" {
			_, at := words.Put(k.s, i, hands[i])
			list = append(list, at)
		} else if says := k.stick(c, hands); !slices.Contains(list, says) {
			list = append(list, says)
		}
	}
	return words.Capital(strings.Join(list, "; "))
}

// stick says how a stick stands: Right stick: ahead and to starboard, all the way.
func (k *walker) stick(c *setup.Control, hands signal.Hands) string {
	var ways, figures []string
	for i := range k.s.Transmitter.Controls {
		other, v := &k.s.Transmitter.Controls[i], hands[i]
		if other.Axis == nil || other.Stick != c.Stick || v == 0 {
			continue
		}
		way := other.Plus
		if v < 0 {
			way = other.Minus
		}
		if way == "" {
			way = k.s.ControlLabel(i) + " " + words.SignedShort(math.Copysign(100, v))
		}
		ways = append(ways, way)
		figures = append(figures, map[float64]string{100: "all the way", 50: "half way"}[math.Abs(v)])
		if figures[len(figures)-1] == "" {
			figures[len(figures)-1] = "to " + words.Short(math.Round(math.Abs(v)))
		}
	}
	name := c.StickWords()
	switch {
	case len(ways) == 0:
		return name + " in the middle"
	case len(ways) == 2 && figures[0] != figures[1]:
		return fmt.Sprintf("%s: %s %s, %s %s", name, ways[0], figures[0], ways[1], figures[1])
	}
	return fmt.Sprintf("%s: %s, %s", name, words.And(ways), figures[0])
}

// does says what hands do up to a look, and from which row on the next goes on; hands are where they were
// before, and then are where they go.
func (k *walker) does(rows []proof.Row, from int, look *Look, hands signal.Hands) (list []string, next int) {
	at := -1
	for next = from; next < len(rows) && rows[next].Frame <= look.Frame; {
		frame, first := rows[next].Frame, next
		if wait := proof.Seconds(frame-at, k.s); at >= 0 && wait >= stillS {
			list = append(list, fmt.Sprintf("Keep it so for %s s.", words.Short(math.Round(wait*10)/10)))
		}
		for ; next < len(rows) && rows[next].Frame == frame; next++ {
			if v, err := k.w.right.HandValue(rows[next].Control, rows[next].Value); err == nil {
				hands[k.hand(rows[next].Control)] = v
			}
		}
		at = frame
		for i := first; i < next; i++ {
			one := k.row(&rows[i], hands)
			if one = words.Capital(one) + "."; one != "." && !slices.Contains(list, one) {
				list = append(list, one)
			}
		}
	}
	if wait := proof.Seconds(look.Frame-at, k.s); at >= 0 && look.When == There && wait < lookS {
		list = append(list, fmt.Sprintf("Look after %s s, while it moves.", words.Short(math.Round(wait*10)/10)))
	}
	if list == nil {
		list = []string{"Hands off."}
	}
	return list, next
}

// row says one row, with the hands where it puts them; empty for what another one says too.
func (k *walker) row(r *proof.Row, hands signal.Hands) string {
	item := k.s.Item(setup.ID(r.Control))
	v := hands[k.hand(r.Control)]
	switch {
	case item.Kind == setup.IsControl && k.s.Transmitter.Controls[item.Index].Axis != nil &&
		k.s.Transmitter.Controls[item.Index].Stick != "":
		c := &k.s.Transmitter.Controls[item.Index]
		says := k.stick(c, hands)
		if rests := c.StickWords() + " in the middle"; says == rests && c.Springs() {
			return "let go of " + c.StickWords()
		}
		return says
	case item.Kind == setup.IsControl:
		does, _ := words.Put(k.s, item.Index, v)
		return does
	case item.Kind == setup.IsReceiver && item.Index > 0:
		return ""
	case item.Kind == setup.IsReceiver:
		return "switch the model " + words.OnOff(v != 0)
	case r.Control == "transmitter":
		return "switch the transmitter " + words.OnOff(v != 0)
	case v == 0:
		return "cut the signal"
	}
	return "let the signal come back"
}

// reading writes what the display of an output's channel must read, as this transmitter counts.
func (k *walker) reading(look *Look, o int) string {
	if look.flashes[o] {
		return "to and fro"
	}
	channel := k.s.Outputs[o].Channel
	scale := travel.ScaleIn(k.s, func(of *setup.Scales) *setup.Menu { return of.Display }, channel,
		"percent")
	switch scale { // a display counts whole ones
	case setup.Scale{Word: "percent"}:
		return words.SignedShort(look.Display[o])
	case setup.Scale{Word: "us"}:
		return fmt.Sprintf("%.0f", k.w.right.PulseOf(look.position[o]))
	}
	return travel.Write(scale, look.position[o], &k.s.Transmitter.Pulse)
}

// differs tells whether a device does something else at a look than at any of some others.
func (k *walker) differs(d int, look *Look, was []*Look) bool {
	return slices.ContainsFunc(was, func(before *Look) bool {
		if look.Devices[d] != before.Devices[d] || math.Abs(look.value[d]-before.value[d]) >= 1 {
			return true
		}
		feeds := k.w.feeds[d]
		return len(feeds) > 0 && (look.Display[feeds[0]] != before.Display[feeds[0]] ||
			look.flashes[feeds[0]] != before.flashes[feeds[0]])
	})
}

// part says what a device must be seen to do.
func (k *walker) part(sights *diagnose.Sights, d int, look *Look) Part {
	part := Part{Of: "devices/" + string(k.s.Devices[d].ID), Label: k.label(d)}
	flashes := false
	if feeds := k.w.feeds[d]; len(feeds) > 0 {
		o := feeds[0]
		flashes = look.flashes[o]
		if look.When == There || look.When == Back {
			part.Channel, part.Display = k.s.Outputs[o].Channel, k.reading(look, o)
		}
	}
	_, says := sights.Named(k.s, &diagnose.Shown{Device: d, Says: look.Devices[d]})
	part.Should = k.should(d, says, look, flashes)
	return part
}

// label is what a device is called: by its function, where it is the only one on it.
func (k *walker) label(d int) string {
	if feeds := k.w.feeds[d]; len(feeds) > 0 && len(k.s.Drives(feeds[0])) == 1 {
		return k.s.OutputLabel(feeds[0])
	}
	return words.Capital(k.s.DeviceLabel(d))
}

// should says what a device must do: turns ahead, half.
func (k *walker) should(d int, says string, look *Look, flashes bool) string {
	v := look.value[d]
	switch k.s.Devices[d].Spec.(type) {
	case *setup.Esc:
		little, still := "slowly", "stands still"
		if k.s.Lights(d) {
			little, still = "a little", says
		}
		if look.Devices[d] == diagnose.Plus || look.Devices[d] == diagnose.Minus {
			return says + ", " + share(math.Abs(v)/100, "full", "half", little,
				"at "+words.Short(math.Round(math.Abs(v))))
		}
		return still
	case *setup.Servo:
		if flashes {
			return "goes to and fro"
		}
		if look.Devices[d] != diagnose.Plus && look.Devices[d] != diagnose.Minus {
			return "stands in its middle"
		}
		if strings.HasPrefix(says, diagnose.AsItShould) { // no picture shows which way
			says = map[string]string{diagnose.Plus: "goes one way",
				diagnose.Minus: "goes the other way"}[look.Devices[d]]
		}
		return says + ", " + k.way(d, v)
	case *setup.StepBox:
		return fmt.Sprintf("stands at step %.0f", v)
	}
	switch {
	case k.s.Devices[d].OnOff() == nil:
		return says
	case flashes:
		return "goes on and off"
	}
	return says
}

// way says how far a servo goes, of what its function lets it.
func (k *walker) way(d int, v float64) string {
	far := 100.0
	if feeds := k.w.feeds[d]; len(feeds) > 0 {
		o := &k.s.Outputs[feeds[0]]
		if far = o.High - o.Centre; v < o.Centre {
			far = o.Centre - o.Low
		}
		v -= o.Centre
	}
	if far <= 0 {
		return "as far as it goes"
	}
	return share(math.Abs(v)/far, "as far as it goes", "half way", "a little way",
		map[bool]string{true: "a third of its way", false: "most of its way"}[math.Abs(v)/far < 0.4])
}

// share says a share of something in words.
func share(v float64, whole, half, little, other string) string {
	switch {
	case v >= 0.95:
		return whole
	case v >= 0.4 && v <= 0.6:
		return half
	case v < 0.3:
		return little
	}
	return other
}

// Says tells how many single faults a walk shows, of each that it does not show, why not, and whether fewer
// steps would do.
func (walk *Walk) Says(s *setup.Setup) []string {
	seen := 0
	var hidden []string
	for f := range walk.Faults {
		if walk.Seen[f] >= 0 {
			seen++
			continue
		}
		wrong, _ := walk.Faults[f].Says(s)
		hidden = append(hidden, "Not shown: "+wrong+". "+words.Capital(walk.Why[f])+".")
	}
	if len(walk.Faults) == 0 {
		return []string{"There is no function yet, so there is nothing to try."}
	}
	of := "this setup"
	if walk.Some {
		of = "these parts"
	}
	said := fmt.Sprintf("%d of %d single faults of %s would be seen.", seen, len(walk.Faults), of)
	if len(hidden) == 0 {
		said = fmt.Sprintf("Every single fault of %s would be seen: %d.", of, seen)
	}
	return append(append([]string{said}, hidden...), walk.fewest())
}

// fewest says how many steps a walk has, and whether any has fewer.
func (walk *Walk) fewest() string {
	always := "the signal lost and back"
	if walk.Least > least {
		always += ", the model off and on"
	}
	switch {
	case walk.Least == 0:
		return words.Count(len(walk.Looks), "step", "steps") + " in all."
	case len(walk.Looks) == walk.Least:
		return fmt.Sprintf("These %d steps are the fewest: %s.", walk.Least, always)
	}
	return fmt.Sprintf("%d steps are as few as were found; no walk has fewer than %d: %s.", len(walk.Looks),
		walk.Least, always)
}
