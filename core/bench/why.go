package bench

import (
	"reflect"
	"slices"

	"axtren/core/diagnose"
	"axtren/core/setup"
)

// whys says of each fault that is not seen why not.
func (k *walker) whys(walk *Walk) {
	var hidden *Walk
	for f := range walk.Faults {
		if walk.Seen[f] >= 0 {
			continue
		}
		walk.Why[f] = k.w.why[f]
		if walk.Why[f] != "" || len(k.s.Claims) == 0 || k.ctx.Err() != nil {
			continue
		}
		if hidden == nil {
			hidden = k.unclaimed()
		}
		if hidden != nil && hidden.Seen[f] >= 0 {
			walk.Why[f] = "it shows only where something is broken that must hold"
		}
	}
	for f := range walk.Faults {
		if walk.Seen[f] < 0 && walk.Why[f] == "" {
			walk.Why[f] = "nothing that was tried shows it"
			if k.ctx.Err() != nil {
				walk.Why[f] = "nothing that was tried so far shows it: the time was over"
			}
		}
	}
}

// hidden says why nothing can show a fault, where the setup alone tells; empty where it does not.
func hidden(s *setup.Setup, f *diagnose.Fault) string {
	a, b := f.Places()
	switch f.Kind {
	case diagnose.Sign:
		from, err := s.Source(s.Mixes[a].From)
		if err == nil && from.Kind == setup.SourceNumber && from.Number == 0 && s.Mixes[a].Bias == 0 {
			return "what this mix gives is 0, with either sign"
		}
	case diagnose.ChannelsExchanged:
		if twins(s, a, b) {
			return "both functions always send the same"
		}
	case diagnose.LeadsExchanged:
		x, y := s.DevicePin(a), s.DevicePin(b)
		rx, one := s.Pin(x)
		_, other := s.Pin(y)
		i, j := s.Carried(x), s.Carried(y)
		switch {
		case !reflect.DeepEqual(one.Switch, other.Switch) ||
			rx.CanOnLoss("preset", one.Pin) != rx.CanOnLoss("preset", other.Pin):
		case one.Channel == other.Channel:
			return "both leads carry the same channel"
		case i >= 0 && j >= 0 && twins(s, i, j) && treated(&s.Link, one.Channel) == treated(&s.Link, other.Channel):
			return "both leads always carry the same"
		}
	case diagnose.Unplugged:
		behind := func(d setup.Device) bool { return d.On == string(s.Devices[a].ID) }
		if !Lists(s, a) && !slices.ContainsFunc(s.Devices, behind) {
			return "nothing hangs behind it that is looked at"
		}
	}
	return ""
}

// treatment is what becomes of a pulse on a receiver channel.
type treatment struct{ arrives, oneBit, halfRate bool }

func treated(l *setup.Link, channel int) treatment {
	return treatment{channel <= l.Channels, slices.Contains(l.OneBit, channel),
		slices.Contains(l.HalfRate, channel)}
}

// twins tells whether two outputs are made in the same way, so that they always stand at the same place, when
// the signal is lost too.
func twins(s *setup.Setup, i, j int) bool {
	bare := func(o setup.Output) setup.Output {
		o.ID, o.Label, o.Channel, o.Notes, o.Linkage = "", "", 0, "", nil
		return o
	}
	shared := func(i int) int {
		return slices.IndexFunc(s.Shares, func(sh setup.Share) bool {
			return slices.Contains(sh.Outputs,
				s.Outputs[i].ID)
		})
	}
	if !reflect.DeepEqual(bare(s.Outputs[i]), bare(s.Outputs[j])) || shared(i) != shared(j) {
		return false
	}
	mixes := func(i int) (list []setup.Mix) {
		for _, m := range s.Mixes {
			if m.To == s.Outputs[i].ID {
				m.ID, m.To, m.Label = nil, "", ""
				list = append(list, m)
			}
		}
		return list
	}
	return reflect.DeepEqual(mixes(i), mixes(j))
}

// longest gives how long the longest of all that takes time takes, seconds.
func longest(s *setup.Setup) (most float64) {
	for i := range s.Logic {
		most = max(most, s.Logic[i].DelayS())
	}
	for i := range s.Sequences {
		most = max(most, s.Sequences[i].LastS())
	}
	for i := range s.Mixes {
		most = max(most, s.Mixes[i].FadeS)
	}
	for i := range s.Outputs {
		most = max(most, s.Outputs[i].Slew.Up, s.Outputs[i].Slew.Down)
	}
	return min(most, settlesS)
}

// unclaimed is the walk of the same setup without its claims; nil where there is none.
func (k *walker) unclaimed() *Walk {
	s := *k.s
	s.Claims = nil
	s.Relink()
	w, err := newWorlds(&s, k.w.some)
	if err != nil {
		return nil
	}
	other := newWalker(k.ctx, &s, w, k.budget)
	return other.walk(other.shortest(other.plan()))
}
