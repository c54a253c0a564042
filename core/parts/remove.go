package parts

import (
	"slices"
	"strconv"
	"strings"

	"axtren/core/setup"
	"axtren/core/words"
)

// use is a part that cannot be as it is without another.
type use struct {
	path  string // place in the document: mixes[2]
	words string // mix Lamps
}

// Remove takes a part out. What uses it goes with it only if along is true;
// else, where anything does, the error names each use, as setup.Problems.
func Remove(doc *setup.Document, part string, along bool) (*setup.Node, error) {
	pointer, _, err := Find(doc.Tree, part)
	if err != nil {
		return nil, err
	}
	c := &cutter{doc: doc, gone: map[string]bool{}}
	c.cut(pointer)
	if uses := c.uses(pointer); len(uses) > 0 && !along {
		var ps setup.Problems
		for _, u := range uses {
			ps = append(ps, setup.Problem{Path: u.path, Message: u.words + " uses " + Name(doc.Setup, part),
				Remedy: "take it along, or let it use something else first"})
		}
		return nil, ps
	}
	tree, _ := without(doc.Tree, "", c.gone)
	return tree, nil
}

// cutter finds what has to go.
type cutter struct {
	doc  *setup.Document
	gone map[string]bool // JSON Pointers
}

// cut notes a place, and, where a part with an id stands there, what refers to it.
func (c *cutter) cut(pointer string) {
	if c.gone[pointer] {
		return
	}
	c.gone[pointer] = true
	id := c.doc.Tree.At(setup.PointerParts(pointer + "/id")...)
	if id == nil {
		return
	}
	if c.doc.Setup.Item(setup.ID(id.Text)).Kind == setup.IsReceiver {
		c.lossClaims(c.doc.Setup.Item(setup.ID(id.Text)).Index)
	}
	for r := range c.doc.Setup.Graph().Naming(setup.ID(id.Text)) {
		c.reference(r.Pointer)
	}
}

// lossClaims notes the claims about outputs that only receiver r carries.
func (c *cutter) lossClaims(r int) {
	s := c.doc.Setup
	for i, claim := range s.Claims {
		if claim.OnLoss == nil {
			continue
		}
		pins := s.Carriers(s.Item(claim.OnLoss.Output).Index)
		if !slices.ContainsFunc(pins, func(p setup.PinRef) bool { return p.Receiver != r }) {
			c.cut("/claims/" + strconv.Itoa(i))
		}
	}
}

// reference notes what cannot be without a reference: the entry of a list or the
// field that may be left out, else the whole part.
func (c *cutter) reference(pointer string) {
	steps := setup.PointerParts(pointer)
	if steps[0] == "stage" {
		c.gone[pointer] = true // the picture shows the part without what moved it
		return
	}
	if steps[len(steps)-1] == "also" {
		c.gone[pointer] = true // a Y lead has one leg left
		return
	}
	if len(steps) == 4 && steps[0] == "stand" && steps[3] == "with" {
		c.gone[pointer] = true // what it was found with is no more: it is to be done again
		return
	}
	if steps[0] == "plan" || steps[0] == "wiring" || steps[0] == "stand" {
		c.gone["/"+strings.Join(steps[:3], "/")] = true // what is told of a part goes with it
		return
	}
	part := "/" + steps[0] + "/" + steps[1]
	field := steps[2]
	switch {
	case c.gone[part]:
	case steps[0] == "demands" && field == "rates":
		c.gone[part+"/rates/"+steps[3]] = true
	case steps[0] == "logic" && field == "in" && len(steps) == 4, steps[0] == "shares" && field == "outputs":
		c.entry(part, pointer)
	case c.optional(steps[0], steps[1], field), steps[0] == "steppers" && field == "home":
		c.gone[pointer] = true
	case steps[0] == "steppers":
		c.gone[pointer] = true
		if c.left(part, "up")+c.left(part, "down") == 0 {
			c.cut(part)
		}
	default:
		c.cut(part)
	}
}

// optional tells whether a kind of block or device does without a field.
func (c *cutter) optional(list, at, name string) bool {
	kinds := setup.KindsOf(list)
	if kinds == nil {
		return false
	}
	kind := kinds.Find(c.doc.Tree.At(list, at, setup.KindField(list)).Text)
	return slices.ContainsFunc(setup.Fields(kind.Spec()),
		func(f setup.Field) bool { return f.Name == name && f.Optional })
}

func (c *cutter) left(part, field string) int {
	if c.gone[part+"/"+field] || c.doc.Tree.At(setup.PointerParts(part+"/"+field)...) == nil {
		return 0
	}
	return 1
}

// entry takes one entry out of a list, or the part where too few are left.
func (c *cutter) entry(part, pointer string) {
	c.gone[pointer] = true
	list := pointer[:strings.LastIndexByte(pointer, '/')]
	left, least := 0, 1
	for i := range c.doc.Tree.At(setup.PointerParts(list)...).Items {
		if !c.gone[list+"/"+strconv.Itoa(i)] {
			left++
		}
	}
	if strings.HasPrefix(part, "/shares/") {
		least = 2 // a share of one has nothing to share
	}
	if left < least {
		c.cut(part)
	}
}

// uses says what goes besides the part itself, in the order of the document.
func (c *cutter) uses(pointer string) []use {
	var uses []use
	seen := map[string]bool{}
	for _, at := range sorted(c.gone) {
		steps := setup.PointerParts(at)
		part := steps[:min(2, len(steps))]
		if steps[0] == "transmitter" {
			part = steps[:min(3, len(steps))]
		}
		whole := "/" + strings.Join(part, "/")
		if whole == pointer || seen[whole] || slices.Contains([]string{"stage", "plan", "wiring", "stand"},
			steps[0]) {
			continue
		}
		seen[whole] = true
		said := "what the transmitter waits for"
		if index, err := strconv.Atoi(part[len(part)-1]); err == nil && part[0] != "start_check" {
			said = words.Part(c.doc.Setup, c.doc.Setup.ItemIn(part[len(part)-2], index))
		}
		uses = append(uses, use{setup.PointerPath(whole), said})
	}
	return uses
}

func sorted(set map[string]bool) []string {
	list := make([]string, 0, len(set))
	for at := range set {
		list = append(list, at)
	}
	slices.Sort(list)
	return list
}

// without copies a tree and leaves out what is gone. A list that loses its last
// entry goes too.
func without(n *setup.Node, at string, gone map[string]bool) (copied *setup.Node, lost bool) {
	c := *n
	c.Keys, c.Items = nil, nil
	for i, item := range n.Items {
		step := strconv.Itoa(i)
		if n.Kind == setup.Map {
			step = n.Keys[i]
		}
		place := at + "/" + step
		if gone[place] {
			lost = true
			continue
		}
		kept, emptied := without(item, place, gone)
		if emptied && kept.Kind == setup.List && len(kept.Items) == 0 {
			continue
		}
		c.Items = append(c.Items, kept)
		if n.Kind == setup.Map {
			c.Keys = append(c.Keys, n.Keys[i])
		}
	}
	return &c, lost
}
