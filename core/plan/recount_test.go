package plan

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/allot"
	"axtren/core/setup"
)

// placedBy is where a plan has everything, read from what it answers alone.
type placedBy struct {
	control map[string]setup.ID // of each hand function
	channel map[setup.ID]int    // of each output
	link    map[setup.ID]int
	pins    map[setup.ID][]string
}

func placedIn(p *Plan) placedBy {
	at := placedBy{map[string]setup.ID{}, map[setup.ID]int{}, map[setup.ID]int{}, map[setup.ID][]string{}}
	for _, h := range p.Hands {
		at.control[h.Of] = h.Control
	}
	for _, f := range p.Functions {
		at.channel[f.Of], at.link[f.Of] = f.Channel, f.Link
		for _, l := range f.Leads {
			at.pins[f.Of] = append(at.pins[f.Of], l.Pin)
		}
	}
	return at
}

// counter counts a plan again by docs/plan.md, section 4, without the program's own tables.
type counter struct {
	*testing.T
	s      *setup.Setup
	p      *Plan
	at     placedBy
	points [5]int
}

func (c *counter) count() [5]int {
	for i := range c.p.Hands {
		c.hand(&c.p.Hands[i])
	}
	mixes := 0
	for i := range c.s.Outputs {
		mixes += c.output(i)
	}
	c.points[3] += 6 * mixes
	if left, limited := c.mixesLeft(); limited {
		c.points[2] += max(0, mixes-left)
	}
	c.hands()
	for _, share := range c.s.Shares {
		for k, a := range share.Outputs {
			for _, b := range share.Outputs[:min(k, 3)] {
				c.pair(a, b)
			}
		}
	}
	return c.points
}

func (c *counter) controlOf(id setup.ID) *setup.Control {
	return &c.s.Transmitter.Controls[c.s.Item(id).Index]
}

func (c *counter) wishOf(h *Hand) (wish setup.HandAsks) {
	if h.Was == "" {
		for i, o := range c.s.Outputs {
			if "outputs/"+string(o.ID) != h.Of {
				continue
			}
			wish = o.Needs.By.HandAsks
			returns := o.Needs.By.Kind == "proportional" && o.Needs.By.Rest != "stays"
			if does := c.usual([]int{i}); does != "" && returns {
				yes := true
				if wish.Does == "" {
					wish.Does = does
				}
				if wish.Thumb == nil {
					wish.Thumb = &yes
				}
			}
			return wish
		}
	}
	axis := c.controlOf(h.Was).Axis
	var moved []int
	for i, o := range c.s.Outputs {
		if slices.Contains(c.values(o.ID), h.Was) {
			moved = append(moved, i)
		}
	}
	if does := c.usual(moved); does != "" && axis != nil && axis.Spring != "none" {
		yes := true
		wish.Does, wish.Thumb = does, &yes
	}
	if c.s.Plan == nil {
		return wish
	}
	for _, own := range c.s.Plan.Hands {
		if own.Control == h.Was {
			if own.Does != "" {
				wish.Does = own.Does
			}
			if own.Thumb != nil {
				wish.Thumb = own.Thumb
			}
			wish.Side = own.Side
		}
	}
	return wish
}

// values lists the controls whose values reach an output through feels and mixes.
func (c *counter) values(output setup.ID) (list []setup.ID) {
	for _, m := range c.s.Mixes {
		if m.To == output {
			if i := c.s.ControlBehind(m.From); i >= 0 {
				list = append(list, c.s.Transmitter.Controls[i].ID)
			}
		}
	}
	return list
}

// usual is what is usual for outputs, by the words of docs/plan.md, section 3.
func (c *counter) usual(outputs []int) string {
	working := map[string]string{"boat": "monitor turret", "tracked": "blade boom bucket", "truck": "boom " +
		"bucket turret",
		"construction": "boom bucket turret trolley hook"}[c.s.Craft.Kind]
	steering := map[string]string{"boat": "rudder", "submarine": "rudder plane", "amphibian": "rudder axle",
		"car":   "axle",
		"truck": "axle"}[c.s.Craft.Kind]
	does := ""
	for _, i := range outputs {
		for _, d := range c.s.Drives(i) {
			for _, part := range c.s.Stage.Parts {
				if part.Device == nil || *part.Device != c.s.Devices[d].ID {
					continue
				}
				if slices.Contains(strings.Fields(working), part.Part) {
					return "works"
				}
				if slices.Contains(strings.Fields(steering), part.Part) {
					does = "drives"
				}
			}
		}
		if c.motor(i) {
			does = "drives"
		}
	}
	return does
}

func (c *counter) motor(output int) bool {
	for _, d := range c.s.Drives(output) {
		if esc, ok := c.s.Devices[d].Spec.(*setup.Esc); ok && esc.Travel == nil {
			return true
		}
	}
	return false
}

func (c *counter) sideOf(id setup.ID) string {
	control := c.controlOf(id)
	if control.Stick == "left" || control.Stick == "right" {
		return string(control.Stick)
	}
	return control.Lies
}

func (c *counter) hand(h *Hand) {
	if h.Control == "" {
		c.points[0]++
		return
	}
	if h.Held || h.Kept {
		require.Equal(c, h.Was, h.Control)
		return
	}
	wish, control := c.wishOf(h), c.controlOf(h.Control)
	if h.Was == "" {
		c.points[4] += c.s.Item(h.Control).Index
	} else {
		was := c.controlOf(h.Was)
		if was.ID != control.ID {
			c.points[3] += 3
			if was.Along != control.Along {
				c.points[3] += 2
			}
		}
	}
	if side := c.sideOf(h.Control); side != "" && wish.Side != "" && side != wish.Side {
		c.points[3] += 4
	}
	onStick := control.Stick != ""
	if wish.Thumb != nil && *wish.Thumb && !onStick {
		c.points[3] += 2
		if control.Reached != "holding" {
			c.points[3] += 2
		}
	}
	if wish.Does == "once" && onStick {
		c.points[3] += 2
	}
}

func (c *counter) hands() {
	for i := range c.p.Hands {
		for k := range c.p.Hands[:i] {
			a, b := &c.p.Hands[i], &c.p.Hands[k]
			does := []string{c.wishOf(a).Does, c.wishOf(b).Does}
			slices.Sort(does)
			if slices.Equal(does, []string{"drives", "works"}) && a.Control != "" && b.Control != "" &&
				c.sideOf(a.Control) != "" && c.sideOf(a.Control) == c.sideOf(b.Control) {
				c.points[3] += 4
			}
		}
	}
}

func (c *counter) pin(name string) (*setup.Receiver, *setup.Pin, int) {
	ref, ok := c.s.PinRef(name)
	require.True(c, ok, name)
	place := 0
	for r := range c.s.Receivers[:ref.Receiver] {
		place += len(c.s.Receivers[r].Pins)
	}
	rx, pin := c.s.Pin(ref)
	return rx, pin, place + ref.Pin
}

// output counts one output, and gives the mixes that it spends.
func (c *counter) output(i int) (mixes int) {
	o, f := &c.s.Outputs[i], &c.p.Functions[i]
	channel := c.at.channel[o.ID]
	if channel == 0 {
		c.points[0]++
	} else {
		if channel != o.Channel {
			c.points[3]++
		}
		c.points[4] += far(channel-1-i) * far(channel-1-i)
	}
	before := 0
	for k := range c.s.Outputs[:i] {
		before += len(c.p.Functions[k].Leads)
	}
	worst := [5]int{}
	for l, lead := range f.Leads {
		if lead.Pin == "" {
			require.True(c, channel == 0 || rxSets(c.s))
			c.points[0] += times(rxSets(c.s))
			continue
		}
		rx, pin, place := c.pin(lead.Pin)
		if lead.Pin != lead.Was {
			c.points[3] += 2
		}
		for _, earlier := range f.Leads[:l] {
			if earlier.Pin == lead.Pin {
				c.points[3] += 2
			}
		}
		if o.Loss != nil && !rx.CanOnLoss(o.Loss.Mode, pin.Pin) && rx.Failsafe.Otherwise != o.Loss.Mode {
			c.points[1]++
		}
		if o.Loss == nil && rx.CanOnLoss("preset", pin.Pin) {
			c.points[4]++
		}
		c.points[4] += far(place-before-l) * far(place-before-l)
		k := pin.Channel
		if rx.SetsPins != nil {
			k = c.at.link[o.ID]
		}
		if of := c.onLink(i, k); channel != 0 && slices.Compare(of[:], worst[:]) > 0 {
			worst = of
		}
	}
	if len(f.Leads) == 0 && channel != 0 && c.at.link[o.ID] != 0 && c.s.Link.SetsOrder == nil {
		worst = c.onLink(i, c.at.link[o.ID])
	}
	for level := range worst {
		c.points[level] += worst[level]
	}
	if direct := c.direct(i); direct != "" && channel != 0 && c.at.control[direct] != "" {
		own := c.controlOf(c.at.control[direct]).OwnChannel
		if own != 0 && own != channel {
			mixes++
		}
	}
	if c.s.Link.SetsOrder != nil && c.s.Receivers[0].SetsPins == nil && len(f.Leads) > 0 && channel != 0 &&
		c.s.Link.Sent(c.at.link[o.ID]) != channel {
		c.points[3]++
	}
	return mixes
}

func rxSets(s *setup.Setup) bool { return s.Receivers[0].SetsPins != nil }

func far(n int) int { return min(max(n, -n), 63) }

// onLink counts what an output pays for a channel of the link.
func (c *counter) onLink(i, k int) (points [5]int) {
	o := &c.s.Outputs[i]
	onOff, driven := true, false
	for _, d := range c.s.Drives(i) {
		driven = true
		onOff = onOff && c.s.Devices[d].OnOff() != nil
	}
	quick := false
	for _, id := range c.values(o.ID) {
		axis := c.controlOf(id).Axis
		quick = quick || axis != nil && axis.Spring != "none" && driven && !onOff
	}
	if o.Needs != nil {
		if o.Needs.Quick != nil {
			quick = *o.Needs.Quick
		}
		if o.Needs.WithinMS > 0 && c.s.LateMS(k) > o.Needs.WithinMS {
			points[2]++
		}
	}
	quickest := c.s.LateMS(1)
	for n := 1; n <= c.s.Link.Channels; n++ {
		quickest = min(quickest, c.s.LateMS(n))
	}
	if quick && c.s.LateMS(k) > quickest {
		points[3]++
	}
	return points
}

// direct names the hand function that moves an output alone.
func (c *counter) direct(i int) string {
	o := &c.s.Outputs[i]
	mixes := c.s.MixesTo(i)
	if len(mixes) == 0 && o.Needs != nil && o.Needs.By != nil {
		return "outputs/" + string(o.ID)
	}
	if len(mixes) != 1 {
		return ""
	}
	control := c.s.ControlBehind(c.s.Mixes[mixes[0]].From)
	if control < 0 {
		return ""
	}
	id, reached := c.s.Transmitter.Controls[control].ID, 0
	for _, m := range c.s.Mixes {
		if m.From.Ref == string(id) {
			reached++
		}
	}
	for _, b := range c.s.Logic {
		if toggle, ok := b.Spec.(*setup.Toggle); ok && string(toggle.In) == string(id)+".b" {
			reached += 2
		}
	}
	if reached != 1 {
		return ""
	}
	return "controls/" + string(id)
}

func (c *counter) mixesLeft() (left int, limited bool) {
	if can := c.s.Transmitter.Can; can == nil || can.Mixes == nil {
		return 0, false
	}
	spent := 0
	for _, m := range c.s.Mixes { // what is drawn is plain; only a gain takes one
		if len(c.s.MixesTo(c.s.Item(m.To).Index)) > 1 || m.Gain.Pos != 100 {
			spent++
		}
	}
	return max(0, *c.s.Transmitter.Can.Mixes-spent), true
}

// pair counts what two outputs of one share pay.
func (c *counter) pair(a, b setup.ID) {
	pa, pb := c.at.pins[a], c.at.pins[b]
	if len(pa) == 0 || len(pb) == 0 {
		return
	}
	ka, kb := c.at.link[a], c.at.link[b]
	if ka != 0 && kb != 0 && c.s.LateMS(ka) != c.s.LateMS(kb) {
		c.points[2]++
	}
	if pa[0] == "" || pb[0] == "" {
		return
	}
	rxa, _, _ := c.pin(pa[0])
	rxb, _, _ := c.pin(pb[0])
	if rxa.ID != rxb.ID {
		c.points[3] += 2
	}
}

// legal holds what docs/plan.md, section 2, says against a plan.
func (c *counter) legal() {
	taken := map[any]string{}
	take := func(what any, by string) {
		require.Empty(c, taken[what], "%v is given to %s and to %s", what, taken[what], by)
		taken[what] = by
	}
	for _, h := range c.p.Hands {
		if h.Control == "" {
			continue
		}
		take(h.Control, h.Of)
		if h.Was != "" && h.Was != h.Control {
			was, is := c.controlOf(h.Was), c.controlOf(h.Control)
			require.Equal(c, was.Axis == nil, is.Axis == nil)
			if was.Axis != nil {
				require.Equal(c, was.Axis.Spring, is.Axis.Spring)
			} else {
				require.Len(c, is.Switch.Positions, len(was.Switch.Positions))
			}
		}
	}
	for i, f := range c.p.Functions {
		o := &c.s.Outputs[i]
		if f.Channel != 0 {
			take(f.Channel, string(f.Of))
		}
		for _, l := range f.Leads {
			if l.Pin == "" {
				continue
			}
			if !l.Y {
				take(l.Pin, string(f.Of))
			}
			rx, pin, _ := c.pin(l.Pin)
			if rx.SetsPins == nil {
				require.Equal(c, f.Link, pin.Channel)
			}
			if o.Needs != nil && slices.Contains(o.Needs.Stays, "pin") {
				require.Equal(c, l.Was, l.Pin)
			}
		}
		if f.Channel != 0 && len(f.Leads) > 0 && (c.s.Link.SetsOrder == nil || c.s.Receivers[0].SetsPins != nil) {
			require.Equal(c, f.Channel, c.s.Link.Sent(f.Link))
		}
		if o.Needs != nil && slices.Contains(o.Needs.Stays, "channel") && f.Channel != 0 {
			require.Equal(c, o.Channel, f.Channel)
		}
	}
}

var small = sizes{functions: 6, controls: 9, channels: 8, pins: 8, receivers: 2}

func TestThePlanCanBeCountedAgain(t *testing.T) {
	met, moved := 0, 0
	for seed := range uint64(300) {
		for _, of := range []sizes{small, large} {
			if of == large && seed%10 > 0 {
				continue
			}
			s := drawn(t, seed, of).Setup
			p, err := Make(s, nil)
			require.NoError(t, err)
			require.True(t, p.Proved)
			c := &counter{T: t, s: s, p: p, at: placedIn(p)}
			c.legal()
			require.Equal(t, c.count(), p.Points, "seed %d of %v", seed, of)
			cost := int64(0)
			for level, n := range p.Points {
				cost += unit[level] * int64(n)
			}
			require.Equal(t, p.Search.Cost, cost, "seed %d of %v", seed, of)
			require.Equal(t, p.Search.Cost, p.Search.Bound)
			met += times(p.Met)
			moved += times(len(p.Changes) > 0)
		}
	}
	require.Greater(t, met, 30)
	require.Greater(t, moved, 100)
}

// TestNoDealIsBetter tries every deal of small kits, whatever the search says.
func TestNoDealIsBetter(t *testing.T) {
	deals := 0
	for seed := range uint64(60) {
		s := drawn(t, seed, sizes{functions: 3 + int(seed%2), controls: 5, channels: 5, pins: 4,
			receivers: 1 + int(seed%2)}).Setup
		p := pose(read(s))
		a, err := allot.Solve(&p.Problem, nil)
		require.NoError(t, err)
		best := allot.Never
		columns := slices.Repeat([]int{allot.None}, len(p.Vars))
		var try func(v int, so int64)
		try = func(v int, so int64) {
			if so > best {
				return
			}
			if v == len(columns) {
				deals++
				best = min(best, p.Cost(columns))
				return
			}
			for c := allot.None; c < p.Columns[p.Vars[v].Side]; c++ {
				own := unit[LeftOut]
				if c != allot.None {
					own = p.Vars[v].Cost[c]
				}
				if own < allot.Never && !taken(p, columns[:v], p.Vars[v].Side, c) {
					columns[v] = c
					try(v+1, so+own)
				}
			}
			columns[v] = allot.None
		}
		try(0, 0)
		require.Equal(t, best, a.Best, "seed %d", seed)
	}
	require.Greater(t, deals, 1000)
}

func taken(p *problem, columns []int, side, column int) bool {
	for v, c := range columns {
		if column != allot.None && c == column && p.Vars[v].Side == side {
			return true
		}
	}
	return false
}
