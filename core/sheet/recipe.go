package sheet

import (
	"context"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/translate"
	"axtren/core/words"
)

// unknown says, of what is not known of a set, what it is and what to try to find it out.
var unknown = map[string]string{
	"order": "in which order it runs its entries (give one its own opposite as its input: where " +
		"that flickers, " +
		"it runs them by their numbers)",
	"both_true": "which side of a latch wins (hold its set and its reset together: where it is on, set does)",
	"set_on": "whether a latch acts while something is held (hold its set, press its reset and let " +
		"go: where it " +
		"is on again, it does)",
	"thrown_at_power_on": "what a thrown switch does at power-on (turn the set on with it thrown: " +
		"where something " +
		"happens, it counts as pressed)",
	"remembers": "whether latches stay as they were (set one, turn the set off and on: where it is on, they do)",
	"negated":   "whether an input can be turned round",
}

// recipe lists the entries of this set that do what the rules say, where it is known what entries it has and
// that was proved at a glance.
func (b *builder) recipe() (items []Item, note string, ok bool) {
	if b.limits() == nil || len(b.s.Logic) == 0 {
		return nil, "", false
	}
	a, err := translate.Translate(context.Background(), b.s, translate.SetOf(b.s, -1), translate.Glance)
	if err != nil || !a.Same || len(a.Entries) == 0 {
		return nil, "", false
	}
	names := map[int][]string{}
	of := map[int]setup.ID{}
	for i := range b.s.Logic {
		if id := b.s.Logic[i].ID; a.StandsFor[id] > 0 {
			n := a.StandsFor[id]
			names[n], of[n] = append(names[n], b.s.Named(id)), id
		}
	}
	for i := range a.Entries {
		e := &a.Entries[i]
		name := strings.Join(append([]string{"Entry " + strconv.Itoa(e.N)}, names[e.N]...), ", ")
		kind, takes := e.Words(b.s)
		items = append(items, Item{part: string(of[e.N]), field: "entry/" + strconv.Itoa(e.N), What: name,
			Value: kind,
			Note:  takes})
	}
	note = "These entries do what the rules say, whatever hands do: that is proved."
	if len(a.RestsOn) > 0 {
		var list []string
		for _, part := range a.RestsOn {
			list = append(list, unknown[part])
		}
		note += " It rests on what is not known of this transmitter: " + words.And(list) + "."
	}
	return items, note, true
}
