package edit

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"axtren/core/setup"
)

// Diff gives a patch that makes after of before. The elements of a list are
// told apart by their ids, where they have them: one that was moved is moved,
// one that was renamed is another.
func Diff(before, after *setup.Node) []Op {
	d := &differ{}
	d.values("", before, after)
	return d.ops
}

type differ struct{ ops []Op }

func (d *differ) op(op, path string, value *setup.Node) {
	one := Op{Op: op, Path: path}
	if value != nil {
		raw := json.RawMessage(value.JSON())
		one.Value = &raw
	}
	d.ops = append(d.ops, one)
}

func (d *differ) test(path string, element *setup.Node) { d.op("test", path+"/id", element.Get("id")) }

func (d *differ) values(path string, before, after *setup.Node) {
	switch {
	case before.Equal(after):
	case before.Kind == setup.Map && after.Kind == setup.Map:
		d.maps(path, before, after)
	case hasIDs(before) && hasIDs(after):
		d.lists(path, before, after)
	default:
		d.op("add", path, after)
	}
}

func (d *differ) maps(path string, before, after *setup.Node) {
	for _, key := range before.Keys {
		if after.Get(key) == nil {
			d.op("remove", path+"/"+escape(key), nil)
		}
	}
	for i, key := range after.Keys {
		at := path + "/" + escape(key)
		if old := before.Get(key); old != nil {
			d.values(at, old, after.Items[i])
		} else {
			d.op("add", at, after.Items[i])
		}
	}
}

func escape(key string) string { return strings.NewReplacer("~", "~0", "/", "~1").Replace(key) }

// hasIDs tells whether a list has elements, each with an id of its own.
func hasIDs(n *setup.Node) bool {
	if n.Kind != setup.List || len(n.Items) == 0 {
		return false
	}
	seen := map[string]bool{}
	for _, item := range n.Items {
		id := item.Get("id")
		if id == nil || seen[id.Text] {
			return false
		}
		seen[id.Text] = true
	}
	return true
}

func placeOf(list []*setup.Node, element *setup.Node) int {
	return slices.IndexFunc(list,
		func(n *setup.Node) bool { return n.Get("id").Text == element.Get("id").Text })
}

// lists takes out what is gone, puts what is new or moved in its place, and goes
// into what stays.
func (d *differ) lists(path string, before, after *setup.Node) {
	now := slices.Clone(before.Items)
	at := func(i int) string { return fmt.Sprintf("%s/%d", path, i) }
	for i := len(now) - 1; i >= 0; i-- {
		if placeOf(after.Items, now[i]) < 0 {
			d.test(at(i), now[i])
			d.op("remove", at(i), nil)
			now = slices.Delete(now, i, i+1)
		}
	}
	for i, want := range after.Items {
		from := placeOf(now, want)
		if from == i {
			continue
		}
		put := want
		if from >= 0 {
			put = now[from]
			d.test(at(from), put)
			d.op("remove", at(from), nil)
			now = slices.Delete(now, from, from+1)
		}
		d.op("add", at(i), put)
		now = slices.Insert(now, i, put)
	}
	for i, want := range after.Items {
		if !now[i].Equal(want) {
			d.test(at(i), now[i])
			d.values(at(i), now[i], want)
		}
	}
}

// Overlap tells whether two patches touch the same place of a document. The
// elements of lists are told apart by the ids that the patches test.
func Overlap(a, b []byte) bool {
	places, others := touches(a), touches(b)
	for _, p := range places {
		for _, o := range others {
			if p == o || strings.HasPrefix(p, o+"/") || strings.HasPrefix(o, p+"/") {
				return true
			}
		}
	}
	return false
}

// touches lists the places that a patch changes, each list element by its id.
func touches(patch []byte) []string {
	var ops []Op
	if json.Unmarshal(patch, &ops) != nil {
		return nil
	}
	var places []string
	ids := map[string]string{}
	for _, op := range ops {
		if element, ok := strings.CutSuffix(op.Path, "/id"); ok && op.Op == "test" {
			ids[element] = string(*op.Value)
			continue
		}
		if op.Op == "test" {
			continue
		}
		place := op.Path
		for element, id := range ids {
			if op.Path == element || strings.HasPrefix(op.Path, element+"/") {
				place = element[:strings.LastIndexByte(element, '/')+1] + id + op.Path[len(element):]
			}
		}
		places = append(places, place)
	}
	return places
}
