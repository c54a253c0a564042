package stage

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/signal"
	"axtren/core/words"
)

// The kinds of drill: the set is switched on, the receivers are, its memory is changed while they are on
// and all latches are, the signal is cut, the hands let go of what springs back, or put everything to
// where it starts.
const (
	SwitchOn    = "switch_on"
	ReceiversOn = "receivers_on"
	NewMemory   = "new_memory"
	CutLink     = "cut_link"
	LetGo       = "let_go"
	AllRest     = "all_rest"
)

// Drill is what happens on a switching-on, a cut link or a letting go, from every
// stance in which unsprung controls may have been left.
type Drill struct {
	Kind  string `json:"kind"`
	Of    int    `json:"of"`    // stances looked at
	Whole bool   `json:"whole"` // those are all; else each control was moved alone
	Lines []Said `json:"lines"`
}

// Said is one thing that happens, in words, with the stances in which it does.
type Said struct {
	Says   string `json:"says"`  // the whole sentence
	Words  string `json:"words"` // what happens
	Count  int    `json:"count"`
	Such   string `json:"such"` // the first of those stances, in words; empty where it happens in all
	Play   string `json:"play"` // its number, to be played
	Danger bool   `json:"danger"`
}

// The times of a drill, in seconds: what is to happen, and until when it is watched.
const (
	drillAt    = 1.0
	drillFor   = 5.0
	maxStances = 512
	maxFrames  = 200_000
)

// choice is an unsprung control with the places in which it may have been left.
type choice struct {
	hand   int
	places []float64
}

func (g *Stage) choices() []choice {
	var list []choice
	for i, c := range g.p.Setup().Transmitter.Controls {
		hand, _ := g.p.Hand(string(c.ID))
		one := choice{hand: hand}
		switch {
		case c.Switch != nil && c.Switch.SpringTo == nil:
			for at := range c.Switch.Positions {
				one.places = append(one.places, float64(at))
			}
		case c.Axis != nil && c.Axis.Spring == "none":
			one.places = []float64{-100, 100}
			if rest := g.p.Setup().Transmitter.Controls[i].Axis.Rest(); math.Abs(rest) != 100 {
				one.places = []float64{-100, rest, 100}
			}
		default:
			continue
		}
		list = append(list, one)
	}
	for i := range g.p.Setup().Devices { // servos that may have been left anywhere
		if hand, ok := g.p.Hand(string(g.p.Setup().Devices[i].ID)); ok {
			list = append(list, choice{hand, []float64{-100, 0, 100}})
		}
	}
	return list
}

// stances lists every way to leave the unsprung controls; where those are too
// many, the hands as they are, and each control moved alone.
func (g *Stage) stances(hands signal.Hands) (list []signal.Hands, whole bool) {
	choices := g.choices()
	limit := min(maxStances, int(maxFrames*g.frame/drillFor))
	n := 1
	for _, c := range choices {
		if n *= len(c.places); n > limit {
			break
		}
	}
	if n > limit {
		list = append(list, slices.Clone(hands))
		for _, c := range choices {
			for _, at := range c.places {
				if at != hands[c.hand] && len(list) < limit {
					one := slices.Clone(hands)
					one[c.hand] = at
					list = append(list, one)
				}
			}
		}
		return list, false
	}
	list = []signal.Hands{slices.Clone(hands)}
	for _, c := range choices {
		var next []signal.Hands
		for _, one := range list {
			for _, at := range c.places {
				other := slices.Clone(one)
				other[c.hand] = at
				next = append(next, other)
			}
		}
		list = next
	}
	return list, true
}

// rest puts what springs back to where it rests.
func (g *Stage) rest(hands signal.Hands) signal.Hands {
	let := slices.Clone(hands)
	for i, v := range g.p.Rest() {
		free := slices.ContainsFunc(g.hands, func(h handAt) bool { return h.slot == g.p.HandSlot(i) })
		if free {
			let[i] = v
		}
	}
	return let
}

// start puts every control to where it starts; power and signal stay.
func (g *Stage) start(hands signal.Hands) signal.Hands {
	all := slices.Clone(hands)
	copy(all, g.p.Rest()[:len(g.p.Setup().Transmitter.Controls)])
	return all
}

// rows gives the hands over a drill: where they are at first, and what then
// happens at drillAt.
func (g *Stage) rows(kind string, hands signal.Hands) (first, then signal.Hands) {
	first, then = slices.Clone(hands), slices.Clone(hands)
	on := func(h signal.Hands, id string, v float64) {
		at, _ := g.p.Hand(id)
		h[at] = v
	}
	for _, h := range []signal.Hands{first, then} {
		on(h, "transmitter", 1)
		on(h, "link", 1)
		for _, rx := range g.p.Setup().Receivers {
			on(h, string(rx.ID), 1)
		}
	}
	switch kind {
	case SwitchOn:
		first, then = g.rest(first), g.rest(then)
		on(first, "transmitter", 0)
	case NewMemory:
		first, then = g.rest(first), g.rest(then)
	case ReceiversOn:
		first, then = g.rest(first), g.rest(then)
		for _, rx := range g.p.Setup().Receivers {
			on(first, string(rx.ID), 0)
		}
	case CutLink:
		on(then, "link", 0)
	}
	return first, then
}

// Script gives a stance of a drill as a script that plays it (docs/format.md,
// section 11); hands are those that the drill was made with. It is empty for no
// such drill or stance.
func (g *Stage) Script(kind string, stance int, hands signal.Hands) string {
	list, _ := g.stances(hands)
	if stance < 0 || stance >= len(list) {
		return ""
	}
	var b strings.Builder
	b.WriteString("t_s,control,value\n")
	switch kind {
	case SwitchOn, ReceiversOn, CutLink:
	case NewMemory: // it begins in the moment of Begin, and only has to last
		fmt.Fprintf(&b, "%s,link,up\n", strconv.FormatFloat(drillFor-2-drillAt, 'g', -1, 64))
		return b.String()
	default:
		return ""
	}
	first, then := g.rows(kind, list[stance])
	rest := g.p.Rest()
	for _, id := range g.movable() {
		hand, _ := g.p.Hand(id)
		if first[hand] != rest[hand] {
			fmt.Fprintf(&b, "0,%s,%s\n", id, g.p.HandWord(id, first[hand]))
		}
	}
	for _, id := range g.movable() {
		hand, _ := g.p.Hand(id)
		if first[hand] != then[hand] {
			fmt.Fprintf(&b, "%s,%s,%s\n", strconv.FormatFloat(drillAt, 'g', -1, 64), id,
				g.p.HandWord(id, then[hand]))
		}
	}
	fmt.Fprintf(&b, "%s,link,%s\n", strconv.FormatFloat(drillFor-2, 'g', -1, 64),
		g.p.HandWord("link", then[g.hand("link")]))
	return b.String()
}

// Begin gives how all stands in the moment in which a stance of a drill begins that no script gets to: the
// memory is changed while all latches are on. It is nil for any other.
func (g *Stage) Begin(kind string, stance int, hands signal.Hands) (*signal.State, *State, signal.Hands) {
	list, _ := g.stances(hands)
	if kind != NewMemory || stance < 0 || stance >= len(list) {
		return nil, nil, nil
	}
	return g.before(kind, list[stance])
}

func (g *Stage) hand(id string) int {
	at, _ := g.p.Hand(id)
	return at
}

// movable lists what a script may move.
func (g *Stage) movable() []string {
	var ids []string
	for _, c := range g.p.Setup().Transmitter.Controls {
		ids = append(ids, string(c.ID))
	}
	ids = append(ids, "transmitter", "link")
	for _, rx := range g.p.Setup().Receivers {
		ids = append(ids, string(rx.ID))
	}
	for _, d := range g.p.Setup().Devices {
		if _, ok := g.p.Hand(string(d.ID)); ok {
			ids = append(ids, string(d.ID))
		}
	}
	return ids
}

// Drill runs a drill from every stance. It takes up to a second: not in a frame.
//
// A letting go, and all to rest, start from the state of the model, on, which is not
// changed; the others start from power-on.
func (g *Stage) Drill(kind string, hands signal.Hands, on *signal.State, st *State) *Drill {
	switch kind {
	case LetGo:
		return said(&Drill{Kind: kind, Of: 1, Whole: true, Lines: g.fromHere(kind, g.rest(hands), on, st)})
	case AllRest:
		return said(&Drill{Kind: kind, Of: 1, Whole: true, Lines: g.fromHere(kind, g.start(hands), on, st)})
	}
	list, whole := g.stances(hands)
	d := &Drill{Kind: kind, Of: len(list), Whole: whole, Lines: []Said{}}
	at := map[string]int{}
	for n, stance := range list {
		for _, one := range g.run(kind, stance) {
			i, known := at[one.Words]
			if !known {
				i = len(d.Lines)
				at[one.Words] = i
				one.Such = g.stanceWords(stance)
				one.Play = strconv.Itoa(n)
				d.Lines = append(d.Lines, one)
			}
			d.Lines[i].Count++
		}
	}
	slices.SortStableFunc(d.Lines, func(a, b Said) int { return int(b2f(b.Danger) - b2f(a.Danger)) })
	return said(d)
}

// said writes the sentences of a drill.
func said(d *Drill) *Drill {
	for i := range d.Lines {
		one := &d.Lines[i]
		switch {
		case d.Of == 1:
			one.Says = one.Words + "."
		case one.Count == d.Of:
			one.Such, one.Says = "", one.Words+", however things were left."
		default:
			one.Says = fmt.Sprintf("%s, in %d of %d ways.", one.Words, one.Count, d.Of)
		}
	}
	return d
}

// stanceWords says where the unsprung controls are that are not where they start.
func (g *Stage) stanceWords(hands signal.Hands) string {
	rest := g.p.Rest()
	var places []string
	for i, c := range g.p.Setup().Transmitter.Controls {
		hand, _ := g.p.Hand(string(c.ID))
		if hands[hand] == rest[hand] || slices.ContainsFunc(g.hands,
			func(h handAt) bool { return h.slot == g.p.HandSlot(hand) }) {
			continue
		}
		at := words.SignedShort(hands[hand])
		if c.Switch != nil {
			at = strings.ReplaceAll(g.p.HandWord(string(c.ID), hands[hand]), "_", " ")
		}
		places = append(places, g.p.Setup().ControlLabel(i)+" at "+at)
	}
	for i := range g.p.Setup().Devices {
		if hand, ok := g.p.Hand(string(g.p.Setup().Devices[i].ID)); ok && hands[hand] != signal.NotChosen {
			places = append(places, g.p.Setup().DeviceLabel(i)+" left at "+words.SignedShort(hands[hand]))
		}
	}
	if places == nil {
		return "everything where it usually is"
	}
	return strings.Join(places, ", ")
}

// run plays one stance and says what each part does after drillAt.
func (g *Stage) run(kind string, hands signal.Hands) []Said {
	on, st, then := g.before(kind, hands)
	return g.after(kind, then, on, st)
}

// before plays one stance up to drillAt, and gives how all then stands and where the hands go.
func (g *Stage) before(kind string, hands signal.Hands) (*signal.State, *State, signal.Hands) {
	first, then := g.rows(kind, hands)
	on, st := g.p.PowerOn(), g.Start()
	for range int(drillAt / g.frame) {
		g.p.Step(on, first)
		if kind == NewMemory {
			g.p.HoldLatches(on)
		}
		g.Step(st, on)
	}
	if kind == NewMemory {
		g.p.ChangeMemory(on)
	}
	return on, st, then
}

// fromHere says what the parts do when the hands go to where they rest, from the
// state that runs, which is left alone.
func (g *Stage) fromHere(kind string, then signal.Hands, on *signal.State, st *State) []Said {
	copied := g.p.PowerOn()
	copied.CopyFrom(on)
	return g.after(kind, then, copied, st.Copy())
}

// after plays on with other hands and says what each part does.
func (g *Stage) after(kind string, then signal.Hands, on *signal.State, st *State) []Said {
	before := slices.Clone(st.now)
	watch := make([]watched, len(g.parts))
	motors, motorsBefore := make([]watched, len(g.motors)), make([]pose, len(g.motors))
	for i := range g.motors {
		motorsBefore[i] = g.motors[i].pose(on)
	}
	sent := false
	for k := range int((drillFor - drillAt) / g.frame) {
		g.p.Step(on, then)
		g.Step(st, on)
		sent = sent || g.p.Sending(on)
		for i := range watch {
			watch[i].see(st.now[i], k)
		}
		for i := range motors {
			motors[i].see(g.motors[i].pose(on), k)
		}
	}
	if kind == SwitchOn && !sent {
		return []Said{{Words: "The transmitter waits, and sends nothing"}}
	}
	var list []Said
	for i := range watch {
		list = append(list, watch[i].say(&g.parts[i], kind, before[i], st.now[i], g.frame)...)
	}
	for i := range motors {
		now := g.motors[i].pose(on)
		list = append(list, motors[i].say(&g.motors[i].part, kind, motorsBefore[i], now, g.frame)...)
		if now.flags&Pushes != 0 {
			list = append(list, Said{Words: g.motors[i].part.label + " pushes at the end of what it moves",
				Danger: true})
		}
	}
	if list == nil {
		list = []Said{{Words: "Nothing moves"}}
	}
	return list
}

// watched is what was seen of one part.
type watched struct {
	first pose // the first that was known
	known bool
	most  float64 // the most that it turned
	last  int     // frames until it last turned
	lit   bool
	meets bool // it was where another part is
}

func (w *watched) see(now pose, k int) {
	if !w.known && now.flags&Unknown == 0 {
		w.first, w.known = now, true
	}
	if now.turn != 0 {
		w.last = k + 1
	}
	if math.Abs(now.turn) > math.Abs(w.most) {
		w.most = now.turn
	}
	w.lit = w.lit || now.at != 0
	w.meets = w.meets || now.flags&Clashes != 0
}

// say tells what a part did.
func (w *watched) say(p *part, kind string, before, after pose, frame float64) (list []Said) {
	add := func(danger bool, format string, args ...any) {
		list = append(list, Said{Words: words.Capital(fmt.Sprintf(format, args...)), Danger: danger})
	}
	if w.meets && before.flags&Clashes == 0 {
		add(true, "%s comes to where another part is", p.label)
	}
	switch { // what a motor turns
	case after.turn != 0 && before.turn != 0 && kind != SwitchOn && kind != ReceiversOn:
		add(true, "%s goes on turning at %.0f", p.label, math.Abs(after.turn))
	case after.turn != 0:
		add(true, "%s turns at %.0f", p.label, math.Abs(after.turn))
	case before.turn != 0:
		add(false, "%s stops after %.2f s", p.label, float64(w.last)*frame)
	case w.most != 0:
		add(true, "%s turns at up to %.0f for a while", p.label, math.Abs(w.most))
	}
	switch p.moves {
	case shines:
		switch {
		case after.at != 0 && before.at == 0:
			add(false, "%s comes on", p.label)
		case after.at == 0 && before.at != 0:
			add(false, "%s goes off", p.label)
		case after.at == 0 && w.lit:
			add(false, "%s is on for a moment", p.label)
		}
	case swings, slides, dials, steps:
		from := before.at
		if before.flags&Unknown != 0 {
			from = w.first.at
			if p.left != nil {
				from = *p.left
			}
		}
		if math.Abs(after.at-from) < 0.05 {
			return list
		}
		if p.moves == steps {
			add(false, "%s goes to step %.0f", p.label, after.at)
			return list
		}
		unit := map[moves]string{swings: " degrees", slides: " mm", dials: " percent"}[p.moves]
		add(false, "%s moves by %.0f%s", p.label, math.Abs(after.at-from), unit)
	}
	return list
}
