package behave

import (
	"slices"

	"axtren/core/fill"
	"axtren/core/setup"
	"axtren/core/signal"
)

// reader finds the sentences of a document. A part that is in one is claimed, and in no other.
type reader struct {
	s       *setup.Setup
	p       *signal.Program
	kind    *kind
	claimed map[setup.Item]bool
	found   []*found
}

// take notes a sentence; roles are its parts besides the main one.
func (r *reader) take(main setup.Item, v fill.Values, roles map[string]setup.Item) *found {
	f := &found{kind: r.kind, main: main, roles: map[string]setup.Item{"": main}, v: v,
		parts: []setup.Item{main}}
	for _, role := range sortedKeys(roles) {
		f.roles[role] = roles[role]
		if roles[role] != main {
			f.parts = append(f.parts, roles[role])
		}
	}
	for _, part := range f.parts {
		r.claimed[part] = true
	}
	r.found = append(r.found, f)
	return f
}

func sortedKeys[T any](of map[string]T) []string {
	var keys []string
	for key := range of {
		keys = append(keys, key)
	}
	slices.Sort(keys)
	return keys
}

// block gives the block that a condition names by itself, of one of some kinds; nil where it is none, or in
// another sentence already.
func (r *reader) block(t setup.Truth, kinds ...string) (*setup.Block, setup.Item) {
	item := r.s.Item(setup.ID(t))
	if item.Kind != setup.IsBlock || r.claimed[item] || !slices.Contains(kinds, r.s.Logic[item.Index].Block) {
		return nil, setup.Item{}
	}
	return &r.s.Logic[item.Index], item
}

// serves tells whether nothing but some parts refers to a part.
func (r *reader) serves(part setup.Item, only ...setup.Item) bool {
	for e := range r.s.Graph().To(part) {
		if !slices.Contains(only, e.From) {
			return false
		}
	}
	return true
}

// blocks calls on with every block that is in no sentence yet.
func (r *reader) blocks(on func(b *setup.Block, item setup.Item)) {
	for i := range r.s.Logic {
		if item := setup.IsBlock.At(i); !r.claimed[item] {
			on(&r.s.Logic[i], item)
		}
	}
}

// mixes calls on with every mix that is in no sentence yet.
func (r *reader) mixes(on func(m *setup.Mix, item setup.Item)) {
	for i := range r.s.Mixes {
		if item := setup.IsMix.At(i); !r.claimed[item] {
			on(&r.s.Mixes[i], item)
		}
	}
}

// plain tells whether a mix does nothing but add its source by one gain.
func plain(m *setup.Mix) bool {
	return m.Shape == "plain" && m.Combine == "add" && !m.Gain.Split && m.When == nil
}

// whole tells whether a mix adds its source as it is.
func whole(m *setup.Mix) bool { return plain(m) && m.Gain.Pos == 100 && m.Bias == 0 }

// sets gives the value that a mix sets its output to while its condition holds; ok is false where it does
// something else.
func sets(m *setup.Mix) (v float64, ok bool) {
	ok = m.From.Ref == "" && m.When != nil && m.Combine == "instead" && m.Shape == "plain" && !m.Gain.Split &&
		m.Gain.Pos == 100 && m.Bias == 0
	return m.From.Number, ok
}

// ref gives a condition as a value.
func ref(t *setup.Truth) string {
	if t == nil {
		return ""
	}
	return string(*t)
}

// base gives a condition without its not.
func base(t setup.Truth) (of setup.Truth, not bool) {
	text, not := t.Split()
	return setup.Truth(text), not
}
