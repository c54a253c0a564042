package travel

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Note is something that was found on the stand.
type Note struct {
	What  string  // a step, or Even: both ends to the smaller
	How   string  // empty: measured
	Value float64 // of a centre; of an end where the linkage binds, else the end itself
	Other bool    // of a direction: it goes the wrong way
	On    string  // the day, in words
}

// BackOff is what is noted where ends are to be set back by something else.
const BackOff = "back_off"

// Keep is what is noted where a function is to go on a lost signal to where it stands.
const Keep = "keep"

// Even is what is noted where both ends are made as far from the centre as the nearer one.
const Even = "even"

// Apply gives the document in which something was found of an output (outputs/rudder): the figure is set,
// an end that binds set back, and how it was found is on record. An arm that was off takes what was found
// after it off the record. said tells it in words. The error is setup.Problems.
func Apply(doc *setup.Document, part string, of Note) (tree *setup.Node, said string, err error) {
	s := doc.Setup
	item := s.Item(setup.ID(strings.TrimPrefix(part, "outputs/")))
	if item.Kind != setup.IsOutput || !strings.HasPrefix(part, "outputs/") {
		return nil, "", setup.Refused("part", part, "is no function of this model", "name one, as outputs/rudder")
	}
	device := moved(s, item.Index)
	if of.What == TaughtAgain || of.What == ToLearned {
		return learn(doc, item.Index, device, of)
	}
	if device < 0 && of.What != Stored && of.What != Keep {
		return nil, "", setup.Refused("part", part, "moves neither a servo nor a motor, so there is nothing to "+
			"find",
			"plug one into its pin, in Kit")
	}
	if of.How == "" {
		of.How = Measured
	}
	if len([]rune(of.On)) > 40 {
		return nil, "", setup.Refused("on", "", "is too long for a day", "write 40 letters at most")
	}
	n := &noter{s: s, tree: doc.Tree, at: item.Index, device: device, of: of}
	if said, err = n.apply(); err != nil {
		return nil, "", err
	}
	return n.tree, said, nil
}

// learn notes that something has learned what is sent, or sets the ends to what it has learned. of.How names
// it as Learners does.
func learn(doc *setup.Document, output, device int, of Note) (tree *setup.Node, said string, err error) {
	s := doc.Setup
	p, err := signal.Compile(s)
	if err != nil {
		return nil, "", err
	}
	l, err := learningOf(p, output)
	if err != nil {
		return nil, "", err
	}
	var learner *Learner
	var has []string
	for _, one := range l.learners() {
		has = append(has, one.Key)
		if one.Key == of.How {
			learner = &one
		}
	}
	if learner == nil {
		remedy := "choose another function: nothing that this one moves has learned anything"
		if has != nil {
			remedy = "use " + strings.Join(has, ", ")
		}
		return nil, "", setup.Refused("to", of.How, "has learned nothing of this function", remedy)
	}
	n := &noter{s: s, tree: doc.Tree, at: output, device: device, of: of}
	at := slices.IndexFunc(learner.Cures, func(c Cure) bool { return c.Act == of.What })
	if at < 0 || learner.Cures[at].Done == "" {
		why := "what it has learned is what is sent"
		if at >= 0 && learner.Cures[at].Note != "" {
			why = learner.Cures[at].Note
		}
		return nil, "", setup.Refused("of", of.What, "is not to be done: "+words.Small(why),
			"leave it as it is, or "+
				"change the ends first")
	}
	if of.What == ToLearned {
		ends, _ := l.endsFor(learner)
		for k, field := range []string{Low, Centre, High} {
			if o := &s.Outputs[output]; ends[k] != [3]float64{o.Low, o.Centre, o.High}[k] {
				n.set(field, setup.NumberNode(ends[k]))
			}
		}
	} else {
		n.taught(learner)
	}
	if device >= 0 && learner.Kind != "module" {
		n.record(Teaching, Learned, 0)
	}
	return n.tree, learner.Cures[at].Done, nil
}

// taught writes what is sent as what was learned.
func (n *noter) taught(of *Learner) {
	write := func(pointer string, names ...string) {
		for k, name := range names {
			if of.counts[k] {
				n.put(pointer+"/"+name, setup.NumberNode(of.Places[k].Sent))
			}
		}
	}
	list, id, _ := strings.Cut(of.Key, "/")
	item := n.s.Item(setup.ID(id))
	pointer := fmt.Sprintf("/%s/%d/", list, item.Index)
	switch of.Kind {
	case "module":
		write("/link/learned_us", Low, Centre, High)
	case "controller":
		if n.tree.At(list, fmt.Sprint(item.Index), "learned_us") == nil {
			n.put(pointer+"learned_us", &setup.Node{Kind: setup.Map})
		}
		write(pointer+"learned_us", Low, "neutral", High)
	case "receiver":
		at := slices.IndexFunc(n.s.Receivers[item.Index].Learned, func(one setup.LearnedEnds) bool {
			return one.Channel == of.channel
		})
		write(fmt.Sprintf("%slearned/%d", pointer, at), Low, Centre, High)
	}
}

type noter struct {
	s          *setup.Setup
	tree       *setup.Node
	at, device int
	of         Note
}

func (n *noter) apply() (said string, err error) {
	o, label := &n.s.Outputs[n.at], n.s.OutputLabel(n.at)
	value := math.Round(n.of.Value*10) / 10
	back := 0.0
	if n.of.How == Measured {
		back = backOff(n.s)
	}
	switch n.of.What {
	case Ready:
		said = label + " is ready for the stand"
	case Arm:
		n.forget(Direction, Centre, Low, High, Straight)
		said = "The arm of " + label + " is on"
	case Teaching:
		if !hasLearned(n.s, n.at) {
			return "", setup.Refused("of", n.of.What, "is no step of "+label+", which moves nothing that learns",
				"choose a function of a speed controller")
		}
		said = "What " + label + " moves has learned its travel"
	case Direction:
		if n.of.Other {
			n.set("reverse", &setup.Node{Kind: setup.Bool, Text: fmt.Sprint(!o.Reverse)})
			said = label + " was turned round"
		} else {
			said = label + " goes the right way"
		}
	case Centre, Straight:
		if n.of.What == Straight && n.of.How == AtLink {
			value, said = o.Centre, label+" keeps its line, put in at the link"
			break
		}
		if value <= o.Low || value >= o.High {
			return "", setup.Refused("value", words.SignedShort(value), "is not between the ends of "+label,
				fmt.Sprintf("use a figure between %s and %s", words.SignedShort(o.Low), words.SignedShort(o.High)))
		}
		n.set("centre", setup.NumberNode(value))
		said = fmt.Sprintf("The centre of %s is at %s", label, words.SignedShort(value))
		if n.of.What == Straight {
			said = fmt.Sprintf("%s keeps its line with its centre at %s", label, words.SignedShort(value))
		}
	case Keep:
		scale, ok := lossScale(n.s, n.at, n.of.How)
		if !ok {
			return "", setup.Refused("to", n.of.How, "is no scale of a loss position", "use percent, span, us or own")
		}
		value = math.Round(10*Percent(scale, n.of.Value, &n.s.Transmitter.Pulse)) / 10
		if value < o.Low || value > o.High {
			return "", setup.Refused("value", words.SignedShort(value), "is beyond the ends of "+label,
				fmt.Sprintf("use %s to %s", words.SignedShort(o.Low), words.SignedShort(o.High)))
		}
		n.set("loss", setup.GroupNode("mode", "preset", "value", value))
		return fmt.Sprintf("On a lost signal %s goes to %s", label, words.SignedShort(value)), nil
	case Stored:
		if o.Loss == nil || o.Loss.Mode != "preset" {
			return "", setup.Refused("of", n.of.What,
				"is no step of "+label+", which goes to no position on a lost signal",
				"say first where it is to go, in Loss and start")
		}
		if math.Abs(value) > 150 {
			return "", setup.Refused("value", words.SignedShort(value), "is beyond all travel", "use −150 to +150")
		}
		said = fmt.Sprintf("The loss position of %s is stored, and was read back as %s", label,
			words.SignedShort(value))
	case Low, High:
		end, side := value+back, "−"
		if n.of.What == High {
			end, side = value-back, "+"
		}
		if n.of.What == Low && (end >= o.Centre || value < -150) || n.of.What == High && (end <= o.Centre ||
			value > 150) {
			return "", setup.Refused("value", words.SignedShort(value), "leaves "+label+" no way to that side",
				fmt.Sprintf("open the end further from its centre at %s, up to 150", words.SignedShort(o.Centre)))
		}
		value = end
		n.set(n.of.What, setup.NumberNode(end))
		said = fmt.Sprintf("The end of %s to %s is at %s", label, side, words.SignedShort(end))
	case Even:
		way := min(o.Centre-o.Low, o.High-o.Centre)
		n.set(Low, setup.NumberNode(o.Centre-way))
		n.set(High, setup.NumberNode(o.Centre+way))
		for _, what := range []string{Low, High} {
			end := map[string]float64{Low: o.Centre - way, High: o.Centre + way}[what]
			// what was found stays found, for it was made smaller on purpose; what is stale stays stale
			if step := stepOf(n.s, n.at, n.device, what); step.Done {
				n.record(what, find(n.s, o.ID, what).How, end)
			}
		}
		return fmt.Sprintf("Both ends of %s are %s from its centre", label, words.Short(way)), nil
	case BackOff:
		if value < 0 || value > 20 {
			return "", setup.Refused("value", words.SignedShort(value), "is no way to set an end back", "use 0 to 20")
		}
		n.inStand("back_off", setup.NumberNode(value))
		return "An end is set back by " + words.Short(value), nil
	default:
		return "", setup.Refused("of", n.of.What, "is no step of the stand",
			"use ready, arm, direction, centre, low, high, straight, learned, keep, loss, even, back_off, "+
				"taught or to_learned")
	}
	if !slices.Contains([]string{Measured, Linked, Learned, Guessed, AtLink}, n.of.How) {
		return "", setup.Refused("to", n.of.How, "is no way to find something",
			"use measured, linkage, learned, guessed or link")
	}
	n.record(n.of.What, n.of.How, value)
	return said, nil
}

// lossScale is the scale in which a loss position is said: percent, unless another one is named; own is that
// of this person's transmitter.
func lossScale(s *setup.Setup, output int, key string) (sc setup.Scale, ok bool) {
	switch key {
	case "percent", Measured:
		return setup.Scale{Word: "percent"}, true
	case "span", "us":
		return setup.Scale{Word: key}, true
	case "own":
		return LossScale(s, output), true
	}
	return sc, false
}

// set sets a field of the output.
func (n *noter) set(field string, to *setup.Node) {
	n.put(fmt.Sprintf("/outputs/%d/%s", n.at, field), to)
}

func (n *noter) put(pointer string, to *setup.Node) {
	tree, err := n.tree.Set(pointer, to)
	if err != nil {
		panic(err) // it leads to a part that is there
	}
	n.tree = tree
}

// forget takes what was found of the output off the record.
func (n *noter) forget(what ...string) {
	list := n.tree.At("stand", "found")
	if list == nil {
		return
	}
	left := &setup.Node{Kind: setup.List, Items: []*setup.Node{}}
	for _, entry := range list.Items {
		if entry.Get("output").Text != string(n.s.Outputs[n.at].ID) || !slices.Contains(what,
			entry.Get("what").Text) {
			left.Items = append(left.Items, entry)
		}
	}
	n.put("/stand/found", left)
}

// record notes what was found, in the place of what was found before.
func (n *noter) record(what, how string, value float64) {
	n.forget(what)
	entry := &setup.Node{Kind: setup.Map}
	add := func(key string, v *setup.Node) {
		entry.Keys, entry.Items = append(entry.Keys, key), append(entry.Items, v)
	}
	add("output", setup.TextNode(string(n.s.Outputs[n.at].ID)))
	add("what", setup.TextNode(what))
	if how != Measured {
		add("how", setup.TextNode(how))
	}
	if value != 0 {
		add("value", setup.NumberNode(value))
	}
	if n.of.On != "" {
		add("on", setup.TextNode(n.of.On))
	}
	if n.device >= 0 {
		d := &n.s.Devices[n.device]
		add("with", setup.TextNode(string(d.ID)))
		if d.Fitted != "" {
			add("fitted", setup.TextNode(d.Fitted))
		}
	}
	if what == Stored {
		o := &n.s.Outputs[n.at]
		add("channel", setup.NumberNode(float64(o.Channel)))
		add("reversed", setup.NodeOf(o.Reverse))
		for _, ref := range n.s.Carriers(n.at) {
			if bound := n.s.Receivers[ref.Receiver].Bound; bound != "" {
				add("bound", setup.TextNode(bound))
				break
			}
		}
	}
	list := &setup.Node{Kind: setup.List}
	if had := n.tree.At("stand", "found"); had != nil {
		list.Items = slices.Clone(had.Items)
	}
	list.Items = append(list.Items, entry)
	n.inStand("found", list)
}

// inStand sets a field of the stand, which there may not be yet.
func (n *noter) inStand(field string, to *setup.Node) {
	if n.tree.Get("stand") == nil {
		n.put("/stand", &setup.Node{Kind: setup.Map})
	}
	n.put("/stand/"+field, to)
}

// mildEnds gives the ends with which a travel begins that is not known, about the centre, as far as there
// is room.
func mildEnds(o *setup.Output) [2]float64 {
	return [2]float64{max(o.Centre-mild, -150), min(o.Centre+mild, 150)}
}
