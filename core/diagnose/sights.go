package diagnose

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
	"axtren/core/travel"
	"axtren/core/words"
)

// Sights is what a person can look at on a model, and what each can be said to do.
type Sights struct {
	Displays []DisplaySight `json:"displays"` // of the transmitter, in the order of their channels
	Devices  []DeviceSight  `json:"devices"`  // in the order of the document
}

// DisplaySight is the figure that a transmitter shows of a channel.
type DisplaySight struct {
	Channel int    `json:"channel"`
	Label   string `json:"label"`
	Counts  string `json:"counts"` // what it counts in on this transmitter; empty where nothing is known of it
}

// DeviceSight is a device, by its id, with what it can be seen to do.
type DeviceSight struct {
	ID    string   `json:"id"`
	Label string   `json:"label"`
	Says  []Saying `json:"says"`
}

// Saying is something that a device does: its word in a look, and what a person calls it.
type Saying struct {
	Key   string `json:"key"`
	Words string `json:"words"`
}

// SightsOf lists what can be looked at. A servo that the picture does not show goes the way it goes with a
// control that moves it when all is right.
func SightsOf(p *signal.Program) Sights {
	s := p.Setup()
	list := Sights{Displays: []DisplaySight{}, Devices: []DeviceSight{}}
	for i := range s.Outputs {
		one := DisplaySight{Channel: s.Outputs[i].Channel, Label: s.OutputLabel(i)}
		if can := s.Transmitter.Can; can != nil && can.Scales != nil {
			one.Counts = travel.Name(displayScale(s, one.Channel))
		}
		list.Displays = append(list.Displays, one)
	}
	slices.SortFunc(list.Displays, func(a, b DisplaySight) int { return cmp.Compare(a.Channel, b.Channel) })
	g := stage.Build(p)
	var goes []map[string]string
	for i := range s.Devices {
		if s.Devices[i].PartKind().Passes {
			continue
		}
		one := DeviceSight{string(s.Devices[i].ID), s.DeviceLabel(i), []Saying{}}
		above, below, turned := g.Ways(i)
		rests := "stays still"
		if isEsc(s, i) && s.Lights(i) {
			above, below, rests = "on", "on, the other way round", "off"
		} else if above == "" && isEsc(s, i) {
			above, below = "runs", "runs the other way"
		} else if above == "" && turns(s, i) {
			if goes == nil {
				goes = goings(p)
			}
			above, below = goes[i][plus], goes[i][minus]
		}
		keys := sayings(&s.Devices[i])
		if turned { // ahead stands before astern, whatever is plus
			slices.Reverse(keys[:2])
		}
		for _, key := range keys {
			said := map[string]string{plus: above, minus: below, still: rests}[key]
			if said == "" {
				said = map[string]string{plus: "goes one way", minus: "goes the other way"}[key]
			}
			if said == "" {
				said = key // on, off, step 2
			}
			one.Says = append(one.Says, Saying{key, said})
		}
		list.Devices = append(list.Devices, one)
	}
	return list
}

// goings says of each device with which control put where it goes which way, when all is right.
func goings(p *signal.Program) []map[string]string {
	s := p.Setup()
	list := make([]map[string]string, len(s.Devices))
	w := &world{s: s, p: p}
	for i := range list {
		list[i] = map[string]string{}
	}
	for _, one := range puts(p) {
		hands := p.Rest()
		hands[one.hand] = one.value
		st := played(p, hands)
		_, at := words.Put(s, one.control, one.value)
		for i := range list {
			if key := shows(w, st, 0, i); list[i][key] == "" {
				list[i][key] = AsItShould + " with " + at
			}
		}
	}
	return list
}

// Named gives what people call something that was looked at, and what was seen there.
func (list *Sights) Named(s *setup.Setup, of *Shown) (label, says string) {
	if of.Device < 0 {
		for _, one := range list.Displays {
			if one.Channel == of.Channel {
				return fmt.Sprintf("channel %d, %s", one.Channel, one.Label), of.Says
			}
		}
		return fmt.Sprintf("channel %d", of.Channel), of.Says
	}
	for _, one := range list.Devices {
		if one.ID != string(s.Devices[of.Device].ID) {
			continue
		}
		for _, said := range one.Says {
			if said.Key == of.Says {
				return one.Label, said.Words
			}
		}
	}
	return s.DeviceLabel(of.Device), of.Says
}

// Doubt names what may be seen wrongly, what was said of it, and what it would have to be.
func (list *Sights) Doubt(s *setup.Setup, d *Doubt) (label, saw string, would []string) {
	label, saw = list.Named(s, &Shown{d.Channel, d.Device, d.Saw})
	for _, one := range d.Would {
		_, says := list.Named(s, &Shown{d.Channel, d.Device, one})
		would = append(would, says)
	}
	return label, saw, would
}

// Try is something that a hand can do with one control.
type Try struct {
	Control string `json:"control"`
	At      any    `json:"at"`   // percent, or the name of a position
	Does    string `json:"does"` // in words
}

// Tries lists what hands can do with one control each, in the order of the transmitter.
func Tries(p *signal.Program) []Try {
	list := []Try{}
	for _, one := range puts(p) {
		id := string(p.Setup().Transmitter.Controls[one.control].ID)
		does, _ := words.Put(p.Setup(), one.control, one.value)
		list = append(list, Try{id, handWords(p, []put{one})[id], does})
	}
	return list
}

// HandsSay says where a look puts the hands, as instructions and as how they then stand; both are empty
// where all stays at rest.
func HandsSay(p *signal.Program, hands map[string]any) (does, at []string) {
	s := p.Setup()
	for _, id := range slices.Sorted(maps.Keys(hands)) {
		item := s.Item(setup.ID(id))
		v, err := p.HandValue(id, handText(hands[id]))
		if err != nil {
			continue
		}
		if item.Kind != setup.IsControl {
			name := s.Named(setup.ID(id)) // what has power
			does, at = append(does, fmt.Sprintf("put %s to %v", name, hands[id])), append(at,
				fmt.Sprintf("%s at %v", name, hands[id]))
			continue
		}
		one, other := words.Put(s, item.Index, v)
		does, at = append(does, one), append(at, other)
	}
	return does, at
}

// Shown is one thing that can be looked at, with what is seen there.
type Shown struct {
	Channel, Device int // of the two one; the other 0 and -1
	Says            string
}

// Shows tells what each of some sets of an answer would show at its next look: of what they would not all
// show; of one set alone, or none, what it would show otherwise than at rest. Without a next look it is nil.
func (a *Answer) Shows(sets [][]Fault) [][]Shown {
	if a.Next == nil {
		return nil
	}
	f := a.finder
	worlds := f.worldsOf(sets)
	if worlds == nil {
		worlds = []*world{f.world(nil)}
	}
	list, err := trials(worlds[0].p, []Look{{Hands: a.Next.Hands}})
	if err != nil {
		return nil // they are of this setup
	}
	var states []*signal.State
	for _, w := range worlds {
		states = append(states, played(w.p, list[0].hands))
	}
	others, otherStates := worlds, states
	if len(worlds) == 1 {
		others, otherStates = append(others, worlds[0]), append(otherStates, played(worlds[0].p,
			worlds[0].p.Rest()))
	}
	shown := make([][]Shown, len(worlds))
	look := func(channel, device int) {
		differ := false
		for i := range others {
			differ = differ || shows(others[i], otherStates[i], channel, device) !=
				shows(others[0], otherStates[0], channel, device)
		}
		for i := range worlds {
			if differ {
				shown[i] = append(shown[i], Shown{channel, device, shows(worlds[i], states[i], channel, device)})
			}
		}
	}
	for i := range f.s.Devices {
		if !f.s.Devices[i].PartKind().Passes {
			look(0, i)
		}
	}
	for i := range f.s.Outputs {
		if !f.blind {
			look(f.s.Outputs[i].Channel, -1)
		}
	}
	return shown
}

// FaultsAt finds faults by their kinds and places. The error is setup.Problems.
func FaultsAt(s *setup.Setup, named []Fault) ([]Fault, error) {
	all := candidates(s, true)
	var list []Fault
	for n, one := range named {
		at := slices.IndexFunc(all, func(f Fault) bool {
			return f.Kind == one.Kind && slices.Equal(f.Where, one.Where)
		})
		if at < 0 {
			return nil, setup.Problems{{Path: fmt.Sprintf("faults[%d]", n), Value: one.Kind,
				Message: "this model cannot have such a fault there",
				Remedy:  "use one that the diagnosis of the same revision named"}}
		}
		list = append(list, all[at])
	}
	slices.SortFunc(list, before)
	return list, nil
}

// Film is what a picture shows while hands go from rest to where a look puts them, until a person looks.
type Film struct {
	Picture *stage.Picture `json:"picture"`
	EveryMS float64        `json:"every_ms"` // from one to the next
	Frames  [][]float64    `json:"frames"`   // stage.Numbers of each
}

// filmEvery is how long one picture of a film stands, seconds, at least.
const filmEvery = 0.1

// Play plays a look with faults on the picture. The error is setup.Problems where the hands do not fit,
// or the faults make a setup that cannot be played.
func Play(p *signal.Program, faults []Fault, hands map[string]any) (*Film, error) {
	list, err := trials(p, []Look{{Hands: hands}})
	if err != nil {
		return nil, err
	}
	s := applied(p.Setup(), faults)
	if s == nil {
		return nil, setup.Problems{{Path: "faults", Message: "these cannot be wrong together",
			Remedy: "use a set that the diagnosis named"}}
	}
	with, err := signal.Compile(s)
	if err != nil {
		return nil, err
	}
	g := stage.Build(with)
	on, shown, st := with.PowerOn(), with.PowerOn(), g.Start()
	frame := s.Transmitter.FrameS()
	each := int(math.Ceil(filmEvery/frame - 1e-9))
	film := &Film{Picture: g.Picture(), EveryMS: float64(each) * frame * 1000, Frames: [][]float64{}}
	travels := map[int]float64{}
	for n := range 2 + int(math.Ceil(afterS/frame-1e-9)) {
		to := list[0].hands
		if n == 0 {
			to = with.Rest()
		}
		with.Step(on, to)
		shown.CopyFrom(on)
		for i := range faults {
			if faults[i].kind == crossed {
				crossOver(with, shown, faults[i].a, travels, frame)
			}
		}
		g.Step(st, shown)
		st.PutBack() // it stands on its stand
		if n%each == 0 {
			film.Frames = append(film.Frames, g.Numbers(st, nil))
		}
	}
	return film, nil
}

// crossOver turns what is seen of a device round: its value, and what its motor moves, which goes the
// other way from where it started.
func crossOver(p *signal.Program, on *signal.State, device int, travels map[int]float64, frame float64) {
	route := &p.Devices[device]
	if route.Value != signal.None {
		on.V[route.Value] = -on.V[route.Value]
	}
	esc, is := p.Setup().Devices[device].Spec.(*setup.Esc)
	if !is || esc.Travel == nil || route.At == signal.None {
		return
	}
	at, known := travels[device]
	if !known {
		at = esc.Travel.Start
	}
	at = min(max(at+on.V[route.Value]*frame/esc.Travel.FullS, 0), 100)
	travels[device] = at
	on.V[route.At] = at
}
