package sheet

import (
	"context"
	"strconv"

	"axtren/core/translate"
	"axtren/core/words"
)

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
	for i, e := range a.Items(b.s) {
		items = append(items, Item{part: b.standsFor(a, i+1), field: "entry/" + strconv.Itoa(i+1), What: e.Name,
			Value: e.Kind, Note: e.Takes})
	}
	note = "These entries do what the rules say, whatever hands do: that is proved."
	if len(a.RestsOn) > 0 {
		note += " It rests on what is not known of this transmitter: " + words.And(a.Rests()) + "."
	}
	return items, note, true
}

// standsFor gives the first rule that an entry stands for; empty where it serves others alone.
func (b *builder) standsFor(a *translate.Answer, n int) string {
	for i := range b.s.Logic {
		if id := b.s.Logic[i].ID; a.StandsFor[id] == n {
			return string(id)
		}
	}
	return ""
}
