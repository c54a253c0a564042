package lines

import (
	"reflect"
	"slices"
)

// Changed is what differs between two views of one layout, by key: what has not changed is
// not in it.
type Changed struct {
	Controls  map[string]Control       `json:"controls,omitempty"`  // by id
	Lines     map[string]Line          `json:"lines,omitempty"`     // by id
	Blocks    map[int]Block            `json:"blocks,omitempty"`    // by place, those of another layout
	Joints    map[int]map[string]Joint `json:"joints,omitempty"`    // of the others, by their keys
	Receivers map[string]Receiver      `json:"receivers,omitempty"` // by part
	Behind    map[string]Behind        `json:"behind,omitempty"`    // by part
}

// Since gives what differs from an older view. ok is false where the two are laid out in
// another way, so that only the whole view will do: another part, another order, other
// places of the values.
func (v *View) Since(old *View) (c *Changed, ok bool) {
	if !v.laidOutAs(old) {
		return nil, false
	}
	c = &Changed{}
	ok = differing(&c.Controls, v.Controls, old.Controls, func(_ int, one *Control) string { return one.ID }) &&
		differing(&c.Lines, v.Lines, old.Lines, func(_ int, one *Line) string { return one.ID }) &&
		differing(&c.Blocks, v.Blocks, old.Blocks, func(i int, _ *Block) int { return i }) &&
		differing(&c.Receivers, v.Receivers, old.Receivers,
			func(_ int, one *Receiver) string { return one.Part }) &&
		differing(&c.Behind, v.Behind, old.Behind, func(_ int, one *Behind) string { return one.Part })
	for i, now := range c.Blocks {
		if joints, alike := now.jointsSince(&old.Blocks[i]); alike {
			if c.Joints == nil {
				c.Joints = map[int]map[string]Joint{}
			}
			c.Joints[i] = joints
			delete(c.Blocks, i)
		}
	}
	return c, ok
}

// jointsSince gives the joints that differ from those of an older block; alike is false where
// it is laid out in another way.
func (b *Block) jointsSince(old *Block) (joints map[string]Joint, alike bool) {
	now, was := b.joints(), old.joints()
	if b.Title != old.Title || b.Note != old.Note || b.Crosses != old.Crosses || len(now) != len(was) ||
		len(b.Chains) != len(old.Chains) || len(b.Rows) != len(old.Rows) {
		return nil, false
	}
	for i := range b.Chains {
		if len(b.Chains[i]) != len(old.Chains[i]) {
			return nil, false
		}
	}
	for i, row := range b.Rows {
		if was := old.Rows[i]; row.Line != was.Line || row.Name != was.Name || len(row.Joints) != len(was.Joints) {
			return nil, false
		}
	}
	joints = map[string]Joint{}
	for i := range now {
		if now[i].Key != was[i].Key {
			return nil, false
		}
		if !reflect.DeepEqual(now[i], was[i]) {
			joints[now[i].Key] = *now[i]
		}
	}
	return joints, true
}

// joints lists the joints of a block, each once, in the order in which they are drawn.
func (b *Block) joints() []*Joint {
	var list []*Joint
	for _, chain := range b.Chains {
		for i := range chain {
			list = append(list, &chain[i])
		}
	}
	if b.Share != nil {
		list = append(list, b.Share)
	}
	for _, row := range b.Rows {
		for i := range row.Joints {
			list = append(list, &row.Joints[i])
		}
	}
	return list
}

// laidOutAs tells whether all is equal that has no key.
func (v *View) laidOutAs(old *View) bool {
	return v.Name == old.Name && v.About == old.About && v.Set == old.Set && v.Sending == old.Sending &&
		v.Up == old.Up && slices.Equal(v.Slots, old.Slots) && slices.Equal(v.StartCheck, old.StartCheck) &&
		reflect.DeepEqual(v.Power, old.Power) && reflect.DeepEqual(v.Kit, old.Kit) &&
		reflect.DeepEqual(v.Groups, old.Groups)
}

// differing notes the elements that differ, by their keys; false where these are others.
func differing[K comparable, T any](into *map[K]T, now, old []T, key func(i int, one *T) K) bool {
	if len(now) != len(old) {
		return false
	}
	for i := range now {
		k := key(i, &now[i])
		if k != key(i, &old[i]) {
			return false
		}
		if reflect.DeepEqual(&now[i], &old[i]) {
			continue
		}
		if *into == nil {
			*into = map[K]T{}
		}
		(*into)[k] = now[i]
	}
	return true
}
