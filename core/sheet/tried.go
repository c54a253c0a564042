package sheet

import (
	"fmt"
	"strings"

	"axtren/core/behave"
	"axtren/core/setup"
	"axtren/core/travel"
	"axtren/core/words"
)

// triedKey is the key of the section of what switches do, and how each of it is tried.
const triedKey = "tried"

// mostTried bounds how many rules are tried: each is played in the engine.
const mostTried = 40

// tried says what the switches do, how each is tried both ways, and what the display must show then.
func (b *builder) tried() Section {
	sec := Section{Key: triedKey, Title: "What the switches do, tried",
		Note: "One after the other, from hands off: what it does, how it is brought about, and how " +
			"it is taken back."}
	rules := behave.Read(b.s, b.p)
	plain := map[string]string{} // each by ids alone: what is only renamed is no change
	for _, r := range behave.Read(unlabelled(b.s), b.p) {
		plain[r.Key] = r.Sentence()
	}
	base, rest := b.p.PowerOn(), b.atRest()
	b.settle(base, rest)
	sends := b.p.Sending(base)
	for i := range rules {
		r := &rules[i]
		bare := plain[r.Key]
		part := strings.ReplaceAll(r.Key, "/", ".")
		sec.Items = append(sec.Items, Item{part: part, field: "says", What: r.Title,
			Note: strings.TrimPrefix(r.Sentence(), r.Title+": "), bare: bare})
		if i >= mostTried || !r.States || !sends {
			continue
		}
		drawn, ok, err := behave.Draw(b.s, b.p, r.Key)
		if err != nil || !ok {
			continue
		}
		for k, try := range drawn.Tries(b.p, base, rest) {
			item := Item{part: part, field: []string{"there", "back"}[k], bare: bare,
				What: fmt.Sprintf("%s, from %s to %s: %s", r.Title, try.From, try.To, strings.Join(try.Does, ", then "))}
			if try.WaitS > 0 {
				item.Note = fmt.Sprintf("so after %s s", words.Short(try.WaitS))
			}
			if len(r.Moves) > 0 {
				b.reading(&item, r, &try)
			}
			sec.Items = append(sec.Items, item)
		}
	}
	return sec
}

// reading adds what the display must show of the first function that a rule acts on, once it has come to
// rest.
func (b *builder) reading(item *Item, r *behave.Rule, try *behave.Try) {
	for i, o := range b.s.Outputs {
		if b.s.OutputLabel(i) != r.Moves[0] {
			continue
		}
		st := b.p.PowerOn()
		st.CopyFrom(try.State)
		moving, _ := b.settle(st, try.Hands)
		item.Channel, item.Line, item.Joint = o.Channel, string(o.ID), "out/"+string(o.ID)+"/pulse"
		item.What += " → " + r.Moves[0]
		if moving[i] {
			item.Value = "goes to and fro"
			return
		}
		sc := b.scale(func(of *setup.Scales) *setup.Menu { return of.Display }, o.Channel, "us")
		pulse, us := &b.s.Transmitter.Pulse, st.At(b.p.Routes[i].US)
		item.Value = travel.Write(sc, pulse.Percent(us), pulse)
		item.US = strings.TrimSuffix(words.Figure(us), ".0")
		return
	}
}
