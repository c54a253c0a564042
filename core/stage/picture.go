package stage

import (
	"math"

	"axtren/core/setup"
)

// Picture is what a page has to know to draw a stage, besides its Numbers.
type Picture struct {
	Craft string   `json:"craft"`           // kind of craft
	View  string   `json:"view"`            // above, side or row
	Goes  bool     `json:"goes"`            // it can leave its place
	Span  float64  `json:"span"`            // mm, the shorter way from above, that show the model well
	Scale float64  `json:"scale"`           // mm of the scale bar
	Base  float64  `json:"base"`            // wheelbase, mm; 0: none
	Kinds []string `json:"kinds"`           // that a part may be of
	Water *float64 `json:"water,omitempty"` // mm up to the waterline, seen from the side
	// from the side, mm: how far it reaches astern, down, ahead and up, wherever its parts stand
	Box   []float64 `json:"box,omitempty"`
	Parts []Piece   `json:"parts"`
	Where Layout    `json:"where"`

	Faults []Fault `json:"faults"` // what the document says wrongly of it
}

// Piece is one part of a Picture. Its Numbers stand at its place: where it is, another
// figure, where it is asked to be, its flags, how its motor turns.
type Piece struct {
	Part   string    `json:"part"`
	Label  string    `json:"label"`
	Moves  string    `json:"moves"` // still, turns, swings, slides, shines, dials, steps
	On     int       `json:"on"`    // place of the part that it is on; -1: the model
	Row    bool      `json:"row"`   // stands in the row, not on the model
	Ahead  float64   `json:"ahead"`
	Side   float64   `json:"side"` // to starboard, or up
	Length float64   `json:"length"`
	Width  float64   `json:"width"`
	Low    float64   `json:"low"` // ends of its way, the lower one first
	High   float64   `json:"high"`
	Lost   *float64  `json:"lost,omitempty"` // where a lost signal brings it
	Driven bool      `json:"driven"`         // something moves it
	Motor  bool      `json:"motor"`          // of an axle: its wheels are driven
	Device string    `json:"device"`
	Line   string    `json:"line"`          // the line of its device
	Arc    []float64 `json:"arc,omitempty"` // of a lamp: the degrees in which it is seen
	Word   string    `json:"word"`          // of what sounds
	Shape  string    `json:"shape"`         // of a hull: boat, cab, house, plain ...
}

// The places of the first Numbers; the parts follow from NumbersFirst, five each:
// where it is, another figure (right wheel of an axle, phase of a turning), where
// it is asked to be, its flags, how its motor turns.
const (
	NumberX = iota
	NumberY
	NumberHeading
	NumberV
	NumberW
	NumberFree
	NumberAsked  // arc of the way asked for: ahead, to starboard, radius
	NumberTaken  = NumberAsked + 3
	NumberPivot  = NumberTaken + 3 // ahead, to starboard, 1 where there is one
	NumbersFirst = NumberPivot + 3
	NumbersEach  = 5
)

// Layout says where a page finds what: the places of the first Numbers, and, of each part,
// the place of its first one and those of the others after it; the bits of its flags.
type Layout struct {
	X       int `json:"x"`
	Y       int `json:"y"`
	Heading int `json:"heading"`
	Free    int `json:"free"`
	Asked   int `json:"asked"` // ahead, to starboard, radius
	Taken   int `json:"taken"`
	Pivot   int `json:"pivot"` // ahead, to starboard, 1 where there is one
	First   int `json:"first"` // of the first part
	Each    int `json:"each"`  // from part to part

	Bits Bits `json:"bits"`
}

// Bits are the flags of a part, one bit each.
type Bits struct {
	Lost      int `json:"lost"`
	Pushes    int `json:"pushes"`
	AtStop    int `json:"at_stop"`
	MovesFree int `json:"moves_free"`
	Clashes   int `json:"clashes"`
	Brakes    int `json:"brakes"`
}

var layout = Layout{NumberX, NumberY, NumberHeading, NumberFree, NumberAsked, NumberTaken, NumberPivot,
	NumbersFirst, NumbersEach,
	Bits{Lost, Pushes, AtStop, MovesFree, Clashes, Brakes}}

// waySeconds is how long a way is drawn ahead of the model.
const waySeconds = 1.5

// Numbers puts what is drawn now behind a list.
func (g *Stage) Numbers(st *State, list []float64) []float64 {
	taken := motion{st.V, st.Side, st.W}
	n := append(list, st.X, st.Y, st.Heading, st.V, st.W, b2f(st.free))
	for _, m := range []motion{st.asked, taken} {
		ahead, side, radius := m.arc(waySeconds)
		n = append(n, ahead, side, math.Copysign(radius, m.w))
	}
	ahead, side, ok := taken.pivot()
	n = append(n, ahead, side, b2f(ok))
	for _, now := range st.now {
		n = append(n, now.at, now.extra, now.asked, float64(now.flags), now.turn)
	}
	for i := len(list); i < len(n); i++ {
		n[i] = math.Round(n[i]*100)/100 + 0
	}
	return n
}

func b2f(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// Picture describes the stage for a page.
func (g *Stage) Picture() *Picture {
	pic := &Picture{Craft: g.p.Setup().Craft.Kind, View: g.view, Span: g.span(), Base: g.body.base,
		Kinds: kinds(), Parts: []Piece{}, Where: layout, Faults: append([]Fault{}, g.faults...)}
	pic.Scale = niceBelow(pic.Span / 3)
	pic.Goes = g.top != 0 && g.view == "above" && (len(g.body.tracks) > 0 || len(g.body.screws) > 0 ||
		g.body.driven > 0)
	s := g.p.Setup()
	if s.Stage != nil && g.view == "side" {
		pic.Water = s.Stage.WaterlineMM
	}
	if g.view == "side" {
		pic.Box = g.box()
	}
	for i := range g.parts {
		p := &g.parts[i]
		one := Piece{Part: p.spec.Part, Label: p.label, Moves: moveWords[p.moves], On: p.on, Row: g.inRow(p),
			Length: p.spec.SizeMM[0], Width: p.spec.SizeMM[1],
			Low: min(p.from, p.to), High: max(p.from, p.to), Lost: p.lost, Word: p.spec.Word,
			Motor:  p.motor.device >= 0,
			Driven: p.driven(), Shape: g.shape(i)}
		if arc := p.spec.Arc; arc != nil && arc[0] < arc[1] {
			one.Arc = arc[:]
		}
		if at := p.spec.AtMM; at != nil {
			one.Ahead, one.Side = at[0], at[1]
		}
		if p.spec.Stops != nil && !math.IsInf(p.stops[0], 0) {
			one.Low, one.High = p.stops[0], p.stops[1]
		}
		if d := p.source.device; d >= 0 {
			one.Device = string(s.Devices[d].ID)
			if out := s.DrivenBy(d); out >= 0 {
				one.Line = string(s.Outputs[out].ID)
			}
		}
		pic.Parts = append(pic.Parts, one)
	}
	return pic
}

// craftShapes are how the first hull of a craft is drawn where the document does not say.
var craftShapes = map[string]map[string]string{
	"above": {"boat": "boat", "submarine": "boat", "amphibian": "boat", "car": "car", "truck": "truck",
		"tracked": "tracked", "construction": "tracked"},
	"side": {"boat": "amphibian", "submarine": "submarine", "amphibian": "amphibian", "tracked": "tracks",
		"construction": "plain"},
}

// shape gives how part i is drawn, where it is a hull.
func (g *Stage) shape(i int) string {
	p := &g.parts[i]
	if p.spec.Part != "hull" || p.spec.Shape != "" {
		return p.spec.Shape
	}
	for k := range g.parts[:i] {
		if g.parts[k].spec.Part == "hull" {
			return "plain"
		}
	}
	if usual := craftShapes[g.view][g.p.Setup().Craft.Kind]; usual != "" {
		return usual
	}
	return "plain"
}

// kinds lists the kinds of part as the format has them.
func kinds() []string {
	for _, f := range setup.Fields(setup.StagePart{}) {
		if f.Name == "part" {
			return f.Choices
		}
	}
	return nil
}

// driven tells whether something moves a part, or nothing has to.
func (p *part) driven() bool {
	return p.moves == still || p.source.device >= 0 || p.spec.Part == "axle" && p.spec.Device == nil
}

// inRow tells whether a part stands in the row: it, or what it is on, has no place.
func (g *Stage) inRow(p *part) bool {
	if g.view == "row" {
		return p.moves != still
	}
	for n := 0; p.on >= 0 && n <= len(g.parts); n++ {
		p = &g.parts[p.on]
	}
	return p.spec.AtMM == nil && p.moves != still
}

// span is how much ground, mm, shows the model well: it fills two thirds of it from above,
// however it lies, and nearly all from the side.
func (g *Stage) span() float64 {
	if g.view == "above" {
		return 1.5 * max(g.long(), 50)
	}
	reach := g.body.length
	for i := range g.parts {
		p := &g.parts[i]
		far := p.spec.SizeMM[0]
		for n := 0; n <= len(g.parts); n++ {
			if at := p.spec.AtMM; at != nil {
				far += math.Hypot(at[0], at[1])
			}
			if p.on < 0 {
				break
			}
			p = &g.parts[p.on]
		}
		reach = max(reach, 1.3*far)
	}
	return reach
}

// long is how far the model reaches ahead and astern of its middle, twice the longer of both, mm.
func (g *Stage) long() float64 {
	far := g.body.length / 2
	for i := range g.parts {
		p := &g.parts[i]
		if at := p.spec.AtMM; at != nil && p.on < 0 {
			far = max(far, math.Abs(at[0])+p.spec.SizeMM[0]/2)
		}
	}
	return 2 * far
}

// box gives how far the model reaches seen from the side: each part at five places of its
// way, with all that it stands on at that place of theirs too.
func (g *Stage) box() []float64 {
	box := []float64{math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)}
	const places = 5
	for i := range g.parts {
		if g.inRow(&g.parts[i]) || g.parts[i].spec.AtMM == nil && g.parts[i].on < 0 {
			continue
		}
		length, width := g.parts[i].spec.SizeMM[0], g.parts[i].spec.SizeMM[1]
		near, far, upright := -length/2, length/2, false // along it, from where it is
		switch kind := g.parts[i].spec.Part; {
		case kind == "leg":
			near, far, upright = -length, 0, true
		case kind == "mast":
			near, far, upright = 0, length, true
		case g.parts[i].moves == swings:
			near, far = 0, length
		}
		for n := range places {
			share := float64(n) / (places - 1)
			for _, at := range [4][2]float64{{near, -width / 2}, {near, width / 2}, {far, -width / 2},
				{far, width / 2}} {
				if upright {
					at[0], at[1] = at[1], at[0]
				}
				ahead, up := g.outside(i, share, at[0], at[1])
				box[0], box[1] = min(box[0], ahead), min(box[1], up)
				box[2], box[3] = max(box[2], ahead), max(box[3], up)
			}
		}
	}
	if math.IsInf(box[0], 0) {
		return []float64{-g.body.length / 2, -g.body.length / 2, g.body.length / 2, g.body.length / 2}
	}
	for k := range box {
		box[k] = math.Round(box[k])
	}
	return box
}

// outside gives where a point of part i is on the model, mm ahead and up, with it and all that
// it stands on at a share of their ways.
func (g *Stage) outside(i int, share, ahead, up float64) (float64, float64) {
	for n := 0; i >= 0 && n <= len(g.parts); n++ {
		p := &g.parts[i]
		at := p.pose(share)
		switch {
		case p.moves == swings:
			sin, cos := math.Sincos(at * math.Pi / 180)
			ahead, up = ahead*cos-up*sin, ahead*sin+up*cos
		case p.spec.Part == "trolley":
			ahead += at
		case p.spec.Part == "mast":
			up += at
		case p.moves == slides:
			up -= at
		}
		if place := p.spec.AtMM; place != nil {
			ahead, up = ahead+place[0], up+place[1]
		}
		i = p.on
	}
	return ahead, up
}

// niceBelow gives the largest of 1, 2, 5 times a power of ten that is not above v.
func niceBelow(v float64) float64 {
	ten := math.Pow(10, math.Floor(math.Log10(max(v, 1))))
	for _, by := range []float64{5, 2} {
		if by*ten <= v {
			return by * ten
		}
	}
	return ten
}
