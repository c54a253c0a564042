package loss

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// Asked is what is asked of a function: what it is to do on a lost signal.
type Asked struct {
	Output   string   `json:"output"`
	Question string   `json:"question"` // about the model
	Ways     []Way    `json:"ways"`     // what is usual for it first, each with its reason
	Can      []string `json:"can"`      // what each of its pins can, a sentence each
	Kept     string   `json:"kept"`     // where it is kept, and how it gets there
	Scales   []Figure `json:"scales"`   // its position in every usual scale; none: it goes to none
	Stored   string   `json:"stored"`   // how it was read back, and when; empty: it was not
	Stores   []Stores `json:"stores"`   // the receivers that store what the sticks show
}

// Stores is a receiver that stores what the sticks show at a press of its button.
type Stores struct {
	Receiver string `json:"receiver"` // its id
	Label    string `json:"label"`
}

// Way is one thing that it can do.
type Way struct {
	Says string     `json:"says"` // in a word or two
	Why  string     `json:"why"`
	Loss setup.Loss `json:"-"`
	Now  bool       `json:"now"`     // it does that
	Odd  bool       `json:"unusual"` // it is marked
	// what lets it do that
	Patch json.RawMessage `json:"patch"`
}

// Figure is a position in one scale.
type Figure struct {
	Key   string `json:"key"`   // percent, span, us, or own: one that no word names
	Scale string `json:"scale"` // what it counts in
	Text  string `json:"text"`
	Of    string `json:"of"`  // what stands behind the figure, in few words
	Own   bool   `json:"own"` // it is the one in which it is typed
}

// home is a low power that keeps a boat coming home, percent (common practice, no source: a low one).
const home = 20.0

// Ask asks about every function, in the order of the document.
func Ask(p *signal.Program) []Asked {
	list := []Asked{}
	driven := DrivenIn(p.Setup())
	for i := range p.Setup().Outputs {
		a := &asker{p: p, s: p.Setup(), o: &p.Setup().Outputs[i], i: i}
		for _, d := range driven {
			if d.Output == i {
				a.driven = append(a.driven, d)
			}
		}
		list = append(list, a.asked())
	}
	return list
}

// asker asks about one function.
type asker struct {
	p      *signal.Program
	s      *setup.Setup
	o      *setup.Output
	i      int
	driven []Driven
	ways   []Way
}

func (a *asker) asked() Asked {
	one := Asked{Output: string(a.o.ID), Can: []string{}, Scales: []Figure{}, Stores: a.storing(),
		Kept: a.kept()}
	one.Question = a.question()
	one.Ways = a.ways
	for k := range one.Ways {
		way := &one.Ways[k]
		way.Now, way.Patch = a.does(&way.Loss), Patch(a.s, a.i, &way.Loss)
	}
	for _, ref := range a.s.Carriers(a.i) {
		one.Can = append(one.Can, a.can(ref))
	}
	if l := a.o.Loss; l != nil && l.Mode == "preset" {
		one.Scales = InScales(a.s, travel.LossScale(a.s, a.i), *l.Value)
	}
	one.Stored = a.stored()
	return one
}

// unit says what a figure of a scale is, in few words, behind it.
func unit(sc setup.Scale) string {
	switch sc.Word {
	case "span":
		return "of 0…100"
	case "us":
		return "µs"
	case "percent":
		return "of ±100"
	}
	return "(" + travel.Name(sc) + ")"
}

// InScales writes a position in its own scale and all others, so that no two of them are mixed up.
func InScales(s *setup.Setup, own setup.Scale, position float64) []Figure {
	list := []Figure{}
	all := []setup.Scale{{Word: "percent"}, {Word: "span"}, {Word: "us"}}
	if !slices.Contains(all, own) {
		all = append(all, own)
	}
	for _, sc := range all {
		key := sc.Word
		if !slices.Contains([]string{"percent", "span", "us"}, key) {
			key = "own"
		}
		list = append(list, Figure{key, travel.Name(sc), travel.Write(sc, position, &s.Transmitter.Pulse), unit(sc),
			sc == own})
	}
	return list
}

// does tells whether the function does a thing already.
func (a *asker) does(l *setup.Loss) bool {
	now := a.o.Loss
	return now != nil && now.Mode == l.Mode && (l.Mode != "preset" || math.Abs(*now.Value-*l.Value) < 0.05)
}

// to offers a position, within the ends of the function.
func (a *asker) to(at float64, says, why string) *Way {
	at = min(max(at, a.o.Low), a.o.High)
	a.ways = append(a.ways, Way{Says: says, Why: why, Loss: setup.Loss{Mode: "preset", Value: &at}})
	return &a.ways[len(a.ways)-1]
}

func (a *asker) mode(mode, says, why string) {
	a.ways = append(a.ways, Way{Says: says, Why: why, Loss: setup.Loss{Mode: mode}})
}

// called tells whether the function, or what it drives, is called by one of some words.
func (a *asker) called(names ...string) bool {
	if slices.ContainsFunc(a.driven, func(d Driven) bool { return d.Called(a.s, names...) }) {
		return true
	}
	label := strings.ToLower(a.s.OutputLabel(a.i))
	return slices.ContainsFunc(names, func(word string) bool { return strings.Contains(label, word) })
}

// question lists what the function may do, and asks which of it: by what it drives and what it is called.
func (a *asker) question() string {
	harm := slices.IndexFunc(a.driven, func(d Driven) bool { return d.Harm(a.s) != "" })
	kind := a.s.Craft.Kind
	water := kind == "boat" || kind == "submarine" || kind == "amphibian"
	plus, minus := travel.ServoWays(a.s, a.i)
	switch {
	case harm >= 0 && a.driven[harm].Harm(a.s) == "turns" && !a.called("pump"):
		return a.motor(a.driven[harm], kind)
	case harm >= 0:
		return a.pump(a.driven[harm])
	case a.called("plane"):
		a.to(a.o.High, "all the way with the "+plus, "if that is rise: the boat comes up by itself")
		a.to(a.o.Low, "all the way with the "+minus, "if that is rise: the boat comes up by itself")
		a.to(a.o.Centre, "level", "it goes on as deep as it is, until its buoyancy brings it up")
		return "Which way is rise? Move it there once, and choose that side, or keep it as it stands."
	case kind == "submarine" && a.called("ballast", "tank", "blow"):
		a.to(a.o.Low, "all the way with the "+minus, "if that empties the tank: the boat comes up by itself")
		a.to(a.o.High, "all the way with the "+plus, "if that empties the tank: the boat comes up by itself")
		return "Which way empties the tank? Move it there once, and choose that side, or keep it as it stands."
	case a.called("brake") || a.o.Works != nil:
		a.brakes()
		return "Is it to brake, or to let it roll out? Move it there once, and keep it."
	case a.called("rudder", "steer", "helm", "wheel"):
		why := "straight on, so that it does not circle into somebody"
		if water {
			why = "amidships, so that it drifts and does not circle"
		}
		a.to(a.o.Centre, "centre", why)
		a.mode("hold", "as it was", "it goes on in its curve")
		return "Straight on, or as it was?"
	case a.called("valve", "blade", "boom", "arm", "bucket", "hydraulic", "lift"):
		a.to(a.o.Centre, "centre", "a valve in its middle lets nothing through, so nothing moves on")
		a.mode("hold", "as it was", "what moves goes on moving to its end")
		return "Is it to stop where it is? Of a valve that is its middle."
	}
	a.mode("hold", "as it was", "nothing moves that did not move before")
	a.to(a.o.Centre, "middle", "where it stands with hands off")
	if a.o.Start != nil {
		a.to(a.o.Start.Value, "as it starts", "where it stands at power-on")
	}
	return "Is it to stay as it is, or to go somewhere? Move it there once, and keep it."
}

func (a *asker) motor(d Driven, kind string) string {
	at, _, _ := d.Stop(a.s)
	a.to(at, "stop", "nobody steers it")
	if v, ok := a.p.Does(d.Device, 0); ok && v == 0 {
		a.mode("cut", "stop, its pulses end", "its controller stops by itself without pulses, and waits for its "+
			"neutral where it is one that does")
	}
	if (kind == "boat" || kind == "amphibian") && a.drives(d) {
		a.to(at+home, "low power home",
			"a school of its own: a boat that keeps coming home; only where it is meant, "+
				"and nobody swims").Odd = true
		return "Stop, or a low power that brings it home? Stop, unless you mean the other."
	}
	return "It is to stop. Is that where its controller has learned its neutral?"
}

// drives tells whether a motor drives the boat itself, as far as its picture, or its name, says so.
func (a *asker) drives(d Driven) bool {
	if a.s.Stage != nil {
		for i := range a.s.Stage.Parts {
			part := &a.s.Stage.Parts[i]
			if part.Part == "screw" && part.Device != nil && *part.Device == a.s.Devices[d.Device].ID {
				return true
			}
		}
	}
	return a.called("screw", "propeller", "drive", "throttle")
}

func (a *asker) pump(d Driven) string {
	switch at, _, ok := d.Stop(a.s); {
	case a.called("ignition", "petrol", "engine", "kill") || d.Kills(a.s) != "":
		if ok {
			a.to(at, "engine off", "an engine that nobody commands is off")
		}
	case ok:
		a.to(at, "off", "valves go to their middle, and a pump that goes on works against them")
	}
	if v, ok := a.p.Does(d.Device, 0); ok && !d.Moves(a.s, v) {
		a.mode("cut", "no pulses", "without pulses it is off by itself")
	}
	return "It is to be off. Try that it is, with the transmitter switched off."
}

func (a *asker) brakes() {
	if w := a.o.Works; w != nil {
		for _, side := range []struct {
			word string
			end  float64
		}{{w.High, a.o.High}, {w.Low, a.o.Low}} {
			if strings.Contains(strings.ToLower(side.word), "brake") {
				a.to((a.o.Centre+side.end)/2, "brake, half", "it stands, and nothing flexes for long")
			}
		}
	}
	a.to(a.o.Centre, "idle", "it rolls out")
}

// can says what one pin can do on a lost signal.
func (a *asker) can(ref setup.PinRef) string {
	rx, pin := a.s.Pin(ref)
	var can []string
	for _, mode := range []string{"hold", "cut", "preset"} {
		if rx.CanOnLoss(mode, pin.Pin) {
			can = append(can, onLoss(mode))
		}
	}
	does, _ := signal.LossOf(a.s, ref)
	by := "It will"
	if a.o.Loss == nil {
		by = "Nothing is said, so it will"
	}
	if len(can) == 0 {
		can = []string{"do nothing of its own"}
	}
	return fmt.Sprintf("Pin %d of %s can %s. %s %s.", pin.Pin, a.s.ReceiverLabel(rx),
		strings.ReplaceAll(words.And(can), " and ", " or "), by, onLoss(does))
}

// storing lists the receivers of the function that store what the sticks show.
func (a *asker) storing() []Stores {
	list := []Stores{}
	for _, ref := range a.s.Carriers(a.i) {
		if rx, _ := a.s.Pin(ref); rx.Stores == "button" {
			list = append(list, Stores{string(rx.ID), a.s.ReceiverLabel(rx)})
		}
	}
	return list
}

// kept says where a loss position is kept, and how it gets there.
func (a *asker) kept() string {
	var button, typed []string
	for _, one := range a.storing() {
		button = append(button, one.Label)
	}
	for _, ref := range a.s.Carriers(a.i) {
		if rx, _ := a.s.Pin(ref); rx.Stores == "typed" {
			typed = append(typed, a.s.ReceiverLabel(rx))
		}
	}
	by := ""
	if can := a.s.Transmitter.Can; can != nil {
		by = can.Failsafe
	}
	switch {
	case len(button) > 0:
		return words.And(button) + " stores what the sticks show at a press of its button."
	case by == "transmitter":
		return "The transmitter keeps it and sends it to the receiver."
	case by == "none":
		return "This transmitter keeps no loss positions: the receiver does what it does by itself."
	case len(typed) > 0:
		return words.And(typed) + " keeps it; it is typed in."
	case by == "receiver":
		return "The receiver keeps it."
	}
	return "Nobody has said where it is kept: say it in Kit."
}

// stored says how the position was read back.
func (a *asker) stored() string {
	if a.s.Stand == nil {
		return ""
	}
	for i := range a.s.Stand.Found {
		was := &a.s.Stand.Found[i]
		if was.What == travel.Stored && was.Output == a.o.ID {
			day := ""
			if was.On != "" {
				day = " on " + was.On
			}
			return fmt.Sprintf("Stored and read back as %s%s.", words.SignedShort(was.Value), day)
		}
	}
	return ""
}
