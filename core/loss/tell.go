package loss

import (
	"cmp"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Stands is where a function stands after the signal was lost, over every cut of a run.
type Stands struct {
	Output string   `json:"output"`
	Least  *float64 `json:"least"` // the position of its pulse, percent; nil: no pulses come any more
	Most   *float64 `json:"most"`
	None   bool     `json:"none"` // after some cuts no pulses come
	Says   []string `json:"says"` // a sentence for each device
	// the moment that is worst, in words; empty: it is the same whatever was before
	Worst string  `json:"worst"`
	Plays string  `json:"plays"` // what plays that, or any cut: lost/rudder; empty: nothing
	Seek  int64   `json:"seek"`  // the frame from which on that is worth looking at
	At    float64 `json:"-"`     // where it is cut then, seconds
}

// Returns is something that moves at once when the signal comes back.
type Returns struct {
	Output string  `json:"output"`
	Says   string  `json:"says"`
	Plays  string  `json:"plays"` // back/port_screw
	Seek   int64   `json:"seek"`
	At     float64 `json:"-"` // where it is cut then, seconds; it comes back later
	name   string
	far    float64 // how far from rest
}

// plural chooses by a number.
func plural(n int, one, many string) string {
	if n == 1 {
		return one
	}
	return many
}

// Told is a drill for a page.
type Told struct {
	Cuts    int       `json:"cuts"`
	Stands  []Stands  `json:"stands"`
	Returns []Returns `json:"returns"` // the strongest first
	Back    string    `json:"back"`    // them all in a sentence; empty where there are none
}

// Tell says a drill, function by function.
func (d *Drill) Tell(p *signal.Program) Told {
	s := p.Setup()
	told := Told{Cuts: d.Cuts, Stands: []Stands{}, Returns: []Returns{}}
	first := make([]int, len(p.Pins)) // of each receiver, its first pin in the list
	for r, n := 0, 0; r < len(p.Pins); r++ {
		first[r], n = n, n+len(p.Pins[r])
	}
	driven := DrivenIn(s)
	for i := range s.Outputs {
		one := Stands{Output: string(s.Outputs[i].ID), Says: []string{}}
		all := Spread{}
		for _, ref := range s.Carriers(i) {
			pin := d.Pins[first[ref.Receiver]+ref.Pin]
			all.join(&pin)
		}
		one.None = all.Missing
		if all.Known {
			one.Least, one.Most = &all.Least, &all.Most
		}
		worst, rest := all, rests(p, i)
		for _, of := range driven {
			if of.Output != i {
				continue
			}
			one.Says = append(one.Says, of.stands(p, &d.Devices[of.Device]))
			if of.Harm(s) != "" {
				worst, rest = d.Devices[of.Device], 0
			}
			if d.Back != nil {
				told.returns(p, of, &d.Back[of.Device])
			}
		}
		for _, ref := range s.Carriers(i) {
			for _, k := range s.OnPin(ref) {
				if s.Devices[k].PartKind().Passes {
					one.Says = append(one.Says, words.Capital(s.DeviceLabel(k))+" goes on working by how the model "+
						"lies: what it adds nobody can say here.")
				}
			}
		}
		if worst.Known {
			one.At = p.Time(int64(d.Cuts+1) / 2) // where it is the same after any cut
			if worst.Least != worst.Most {
				one.At = worst.farthest(rest)
				one.Worst = "cut at " + seconds(one.At) + " s"
			}
			one.Plays, one.Seek = "lost/"+one.Output, before(p, one.At)
		}
		told.Stands = append(told.Stands, one)
	}
	slices.SortStableFunc(told.Returns, func(a, b Returns) int { return cmp.Compare(b.far, a.far) })
	var names []string
	for _, one := range told.Returns {
		names = append(names, one.name)
	}
	if len(names) > 0 {
		told.Back = "When the signal comes back " + words.And(names) + plural(len(names), " goes", " go") +
			" on at once, as is then asked."
	}
	return told
}

// rests is where a function is to go on a lost signal; where it goes nowhere, its middle.
func rests(p *signal.Program, output int) float64 {
	o := &p.Setup().Outputs[output]
	if o.Loss != nil && o.Loss.Value != nil {
		return *o.Loss.Value
	}
	return o.Centre
}

// before is the frame a second before a cut.
func before(p *signal.Program, cutS float64) int64 {
	return int64(max(cutS-1, 0) / p.Setup().Transmitter.FrameS())
}

// seconds writes a time to the hundredth.
func seconds(s float64) string { return strconv.FormatFloat(math.Round(s*100)/100, 'f', -1, 64) }

// join counts what was seen of another thing too, after the same cuts.
func (s *Spread) join(other *Spread) {
	was := *s
	s.add(other)
	if !was.Known || !other.Known {
		return
	}
	if other.Least == was.Least {
		s.LeastS = min(was.LeastS, other.LeastS)
	}
	if other.Most == was.Most {
		s.MostS = min(was.MostS, other.MostS)
	}
}

// farthest is the cut after which something stands farthest from a place.
func (s *Spread) farthest(from float64) float64 {
	if math.Abs(s.Least-from) > math.Abs(s.Most-from) {
		return s.LeastS
	}
	return s.MostS
}

// span writes between which figures something lies.
func (s *Spread) span() string {
	return words.SignedShort(math.Round(10*s.Least)/10) + " to " + words.SignedShort(math.Round(10*s.Most)/10)
}

// stands says where one device stands.
func (d Driven) stands(p *signal.Program, at *Spread) string {
	s := p.Setup()
	name, same := words.Capital(d.Name(s)), at.Least == at.Most
	figure := words.SignedShort(math.Round(10*at.Least) / 10)
	mode, _ := signal.LossOf(s, d.Ref)
	if !at.Known {
		return name + " never gets a pulse in this run."
	}
	switch spec := s.Devices[d.Device].Base().(type) {
	case *setup.Esc:
		switch {
		case same && at.Least == 0:
			return name + " stands still."
		case same:
			return name + " goes on turning, at " + figure + "."
		}
		return name + " may go on turning, at " + at.span() + "."
	case *setup.OnOff:
		switch {
		case same && at.Least == 0:
			return name + " is off."
		case same:
			return name + " is on."
		}
		return name + " stays as it was, on or off."
	case *setup.StepBox:
		if same {
			return fmt.Sprintf("%s stands at step %.0f.", name, at.Least)
		}
		return fmt.Sprintf("%s stays at its step, %.0f to %.0f.", name, at.Least, at.Most)
	case *setup.Servo:
		switch {
		case same:
			return name + " stands at " + figure + "."
		case mode == "preset" && spec.SpeedS > 0:
			return name + " is still on its way, at " + at.span() + ": it takes its time."
		}
		return name + " stays where it was, at " + at.span() + "."
	}
	return name + " stands at " + at.span() + "."
}

// returns notes a device that turns or runs at once when the signal comes back.
func (t *Told) returns(p *signal.Program, d Driven, at *Spread) {
	s := p.Setup()
	harm := d.Harm(s)
	if harm == "" || !at.Known || !d.Moves(s, at.Least) && !d.Moves(s, at.Most) {
		return
	}
	far := at.Most
	cut := at.farthest(0)
	if cut == at.LeastS && math.Abs(at.Least) > math.Abs(at.Most) {
		far = at.Least
	}
	says := words.Capital(d.Name(s)) + " " + harm + " at once when the signal comes back"
	if harm == "turns" {
		says += ", at up to " + words.SignedShort(math.Round(far))
	}
	out := string(s.Outputs[d.Output].ID)
	t.Returns = append(t.Returns, Returns{out, says + ", as is then asked of it.", "back/" + out, before(p, cut),
		cut, d.Name(s), math.Abs(far)})
}

// How long a film of a drill goes on after the last look, seconds.
const filmS = 1.5

// Film is the script that shows what happens after a cut: the run up to it, the link down, and up again if it
// comes back.
func Film(p *signal.Program, rows []signal.Row, wish *Wish, cutS float64, back bool) string {
	link, _ := p.Hand("link")
	last := 0.0
	for _, rx := range p.Setup().Receivers {
		last = max(last, rx.LossAfterS)
	}
	returns := cutS + last + wish.AfterS + p.Setup().Transmitter.FrameS()
	end := returns + filmS
	all := slices.DeleteFunc(slices.Clone(rows), func(r signal.Row) bool { return r.Hand == link || r.T > end })
	put := func(t, v float64) {
		at := slices.IndexFunc(all, func(r signal.Row) bool { return r.T > t })
		if at < 0 {
			at = len(all)
		}
		all = slices.Insert(all, at, signal.Row{T: t, Hand: link, Value: v})
	}
	put(cutS, 0)
	if back {
		put(returns, 1)
	}
	put(end, b2f(back))
	ids := p.HandIDs()
	var b strings.Builder
	b.WriteString("t_s,control,value\n")
	for _, r := range all {
		fmt.Fprintf(&b, "%s,%s,%s\n", strconv.FormatFloat(r.T, 'f', -1, 64), ids[r.Hand],
			p.HandWord(ids[r.Hand], r.Value))
	}
	return b.String()
}

func b2f(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// Patch is a JSON Patch by which an output does something else on a lost signal.
func Patch(s *setup.Setup, output int, l *setup.Loss) json.RawMessage {
	value := map[string]any{"mode": l.Mode}
	if l.Value != nil {
		value["value"] = *l.Value
	}
	path := fmt.Sprintf("/outputs/%d", output)
	text, err := json.Marshal([]map[string]any{
		{"op": "test", "path": path + "/id", "value": s.Outputs[output].ID},
		{"op": "add", "path": path + "/loss", "value": value},
	})
	if err != nil {
		panic(err) // it is made of texts and figures
	}
	return text
}

// HazardTold is a hazard for a page.
type HazardTold struct {
	Rule     string           `json:"rule"`
	Severity string           `json:"severity"`
	Says     string           `json:"says"`  // what is so
	Since    string           `json:"since"` // what that comes from; empty where Says has it all
	Remedy   string           `json:"remedy"`
	Output   string           `json:"output"` // the id of the function; empty: it is about none
	Mend     string           `json:"mend"`   // what mends it, in words; empty: nothing does so by a press
	Leads    string           `json:"leads"`  // the place in which it is mended; empty: where it is said
	Patch    *json.RawMessage `json:"patch,omitempty"`
}

// mendedIn are the places in which hazards are mended that are not where they are said.
var mendedIn = map[string]string{"loss_not_kept": "plan", "latch_wakes_on": "rules", "wakes_later": "kit",
	"on_without_pulses": "kit"}

// TellHazards says the hazards of a setup.
func TellHazards(p *signal.Program) []HazardTold {
	s := p.Setup()
	list := []HazardTold{}
	for _, h := range Hazards(p) {
		says, since, more := strings.Cut(h.Says, ": ")
		one := HazardTold{Rule: h.Rule, Severity: h.Severity, Says: words.Capital(says) + ".",
			Remedy: words.Capital(h.Remedy) + ".", Leads: mendedIn[h.Rule]}
		if more {
			one.Since = words.Capital(since) + "."
		}
		if h.Output >= 0 {
			one.Output = string(s.Outputs[h.Output].ID)
		}
		if h.Mend != nil {
			patch := Patch(s, h.Output, &h.Mend.Loss)
			one.Mend, one.Patch = h.Mend.Says, &patch
		}
		list = append(list, one)
	}
	return list
}
