package parts

import (
	"fmt"
	"slices"

	"axtren/core/setup"
)

// PieceOf gives the document of a piece that is as a part of a model is, without what belongs
// to the model. part is transmitter, module, receivers/rx or devices/horn. The error is
// setup.Problems where there is no such part.
func PieceOf(doc *setup.Document, part string) (*setup.Node, error) {
	copied, err := CopyOf(doc.Setup, part)
	if err != nil {
		return nil, err
	}
	n := copyNode(doc.Tree, copied)
	if n == nil { // a transmitter of which the document says nothing
		n = &setup.Node{Kind: setup.Map}
	}
	n = n.Copied()
	called := label(copied.Kind)
	for _, field := range slices.Concat(copied.Kind.Own, []string{"from", "id"}) {
		if field != called {
			drop(n, field)
		}
	}
	for _, pin := range itemsOf(n, "pins") {
		drop(pin, "label")
	}
	put(n, called, setup.TextNode(doc.Setup.CopyLabel(copied)))
	tree := pieceTree(copied.Kind, n)
	takeLearned(tree, copied.Kind, nil, doc)
	return tree, nil
}

// NewPiece gives the document of a new piece: of a transmitter or a receiver of one of the kinds
// to begin with, or of a device of a kind. The error is setup.Problems.
func NewPiece(kind *setup.PieceKind, of string) (*setup.Node, error) {
	n, count := &setup.Node{Kind: setup.Map}, 1
	switch kind.Key {
	case "transmitter":
		class := find(transmitterKinds(), of)
		if class == nil {
			return nil, problem("kind", "is no kind of transmitter", "name one of those that there are")
		}
		n = class.Get("transmitter").Copied()
		put(n, "controls", class.Get("controls").Copied())
	case "module":
		n = setup.GroupNode("label", "New module")
	case "receiver":
		list := receivers(of)
		switch {
		case list != nil:
			n, count = list[0], len(list) // both of a pair are alike but for the channels
		case of == "":
			n = setup.GroupNode("label", "New receiver", "loss_after_s", 1, "pins",
				[]any{setup.GroupNode("pin", 1, "channel", 1)})
		default:
			return nil, problem("kind", "is no kind of receiver", "name one of those that there are")
		}
		drop(n, "notes")
	case "device":
		a := &adder{id: pieceID}
		if n = a.begin("devices", of, setup.GroupNode("label", "New "+setup.Devices.Name(of), "kind",
			of)); n == nil {
			return nil, problem("kind", "is no kind of device", a.missing)
		}
	}
	tree := pieceTree(kind, n)
	if count > 1 {
		put(tree.Get("piece"), "count", setup.NumberNode(float64(count)))
	}
	return tree, nil
}

// pieceID is the id of the part of every piece, and benchID that of the receiver on which the
// document of a device has it.
const (
	pieceID = "piece"
	benchID = "bench"
)

// pieceTree makes the document of a piece of its part.
func pieceTree(kind *setup.PieceKind, n *setup.Node) *setup.Node {
	tree := setup.GroupNode("format", "axtren-setup", "version", 1, "piece", setup.GroupNode("kind", kind.Key))
	switch kind.Key {
	case "transmitter":
		put(tree, "transmitter", n)
		return tree
	case "module":
		put(tree, "link", setup.GroupNode("module", n))
		return tree
	case "device":
		put(tree, "receivers", setup.NodeOf([]any{setup.GroupNode("id", benchID, "label",
			"Where it is tried", "pins",
			[]any{setup.GroupNode("pin", 1, "channel", 1)})}))
		put(n, "on", setup.TextNode(benchID+".1"))
	}
	appendTo(tree, kind.List, pieceID, n)
	return tree
}

// CopyOf gives a part that can be a copy of a piece. The error is setup.Problems where there is
// no such part.
func CopyOf(s *setup.Setup, part string) (setup.Copy, error) {
	for _, one := range s.Copies() {
		if one.Part == part {
			return one, nil
		}
	}
	return setup.Copy{}, problem(part, "there is no such part", "it may have been removed meanwhile; look again")
}

func copyNode(tree *setup.Node, c setup.Copy) *setup.Node {
	return tree.At(setup.PointerParts(c.Pointer())...)
}

// label is the field that says what a piece is called.
func label(kind *setup.PieceKind) string {
	if kind.Key == "transmitter" {
		return "name"
	}
	return "label"
}

func drop(n *setup.Node, key string) {
	if i := slices.Index(n.Keys, key); i >= 0 {
		n.Keys, n.Items = slices.Delete(n.Keys, i, i+1), slices.Delete(n.Items, i, i+1)
	}
}

// FromPiece gives a document with a copy of a piece, from: with a new receiver or device where part
// is the list receivers or devices, on a pin where on names one; else with the part that there is
// made a copy, of which what belongs to the model stays. It gives the name of the part.
// The error is setup.Problems where the two are not of one kind.
func FromPiece(doc, piece *setup.Document, from setup.From, part, on string) (tree *setup.Node, name string,
	err error) {
	of, there := piece.Setup.PieceCopy()
	if !there {
		return nil, "", problem("piece", "is no piece of a shelf", "name one that is on your shelf")
	}
	theirs := copyNode(piece.Tree, of)
	switch {
	case part != "" && part == of.Kind.List:
		tree, name, err = addPiece(doc, of.Kind, theirs, on)
	case part == of.Kind.Key && part == "module" && doc.Setup.Link.Module == nil:
		tree, name = addModule(doc, theirs), part
		takeLearned(tree, of.Kind, nil, piece)
	default:
		tree, name, err = become(doc, piece, of, part)
	}
	if err != nil {
		return nil, "", err
	}
	put(treeNamed(tree, name), "from", setup.GroupNode("piece", string(from.Piece), "revision", from.Revision))
	return tree, name, nil
}

// become makes a part that there is a copy of a piece.
func become(doc, piece *setup.Document, of setup.Copy, part string) (*setup.Node, string, error) {
	ours, err := CopyOf(doc.Setup, part)
	switch {
	case err != nil:
		return nil, "", err
	case ours.Kind != of.Kind:
		return nil, "", notAlike(doc.Setup.CopyLabel(ours), of.Kind.Name)
	}
	if of.Kind.Key == "device" {
		kind := piece.Setup.Devices[of.Item.Index].Kind
		if doc.Setup.Devices[ours.Item.Index].Kind != kind {
			return nil, "", notAlike(doc.Setup.CopyLabel(ours), setup.Devices.Name(kind))
		}
	}
	theirs := copyNode(piece.Tree, of)
	tree, _ := Merge(doc, ours, nil, theirs)
	takeLearned(tree, of.Kind, nil, piece)
	if of.Kind.Key == "transmitter" {
		put(treeNamed(tree, part), "name", setup.TextNode(piece.Setup.CopyLabel(of)))
	}
	return tree, part, nil
}

// addModule gives a link an add-on module that is as a piece is.
func addModule(doc *setup.Document, theirs *setup.Node) *setup.Node {
	tree := doc.Tree.Copied()
	put(groupIn(tree, "link"), "module", theirs.Copied())
	return tree
}

func notAlike(label, kind string) error {
	return problem(label, "cannot be a copy of a "+kind, "choose a piece of its own kind")
}

// addPiece adds a receiver or a device that is as a piece is.
func addPiece(doc *setup.Document, kind *setup.PieceKind, theirs *setup.Node, on string) (*setup.Node, string,
	error) {
	a := &adder{s: doc.Setup}
	id := a.free(kind.Key)
	n := theirs.Copied()
	drop(n, "id")
	if kind.Key == "device" {
		if on == "" {
			on = a.freePin()
		}
		if on == "" {
			return nil, "", problem("on", "there is no free pin", "add a receiver with a pin first")
		}
		put(n, "on", setup.TextNode(on))
	}
	tree := doc.Tree.Copied()
	appendTo(tree, kind.List, id, n)
	return tree, kind.List + "/" + id, nil
}

// treeNamed gives the node of a copy in a tree that was made here: parts keep their names in it.
func treeNamed(tree *setup.Node, part string) *setup.Node {
	switch part {
	case "transmitter":
		return tree.Get("transmitter")
	case "module":
		return tree.At("link", "module")
	}
	_, n, err := Find(tree, part)
	if err != nil {
		panic(err) // it was made, or found, just now
	}
	return n
}

// Called gives a document in which a copy is called otherwise.
func Called(doc *setup.Document, of setup.Copy, name string) (*setup.Document, error) {
	tree := doc.Tree.Copied()
	put(copyNode(tree, of), label(of.Kind), setup.TextNode(name))
	return setup.FromTree(tree)
}

// Seen gives a document in which a copy says that it was compared with a revision of its piece.
// The error is setup.Problems where the part is no copy.
func Seen(doc *setup.Document, part string, revision int) (*setup.Node, error) {
	copied, err := CopyOf(doc.Setup, part)
	if err != nil {
		return nil, err
	}
	if copied.From == nil {
		return nil, problem(part, "is a copy of no piece", "choose its piece first")
	}
	tree := doc.Tree.Copied()
	put(copyNode(tree, copied), "from", setup.GroupNode("piece", string(copied.From.Piece), "revision",
		revision))
	return tree, nil
}

// Learn gives the document of a piece that knows what a copy of it has that differs from base,
// what it was copied from; nil is all that the copy has.
func Learn(piece, base, model *setup.Document, part string) (*setup.Node, error) {
	ours, there := piece.Setup.PieceCopy()
	copied, err := CopyOf(model.Setup, part)
	switch {
	case err != nil:
		return nil, err
	case !there || copied.Kind != ours.Kind:
		return nil, notAlike(model.Setup.CopyLabel(copied), copied.Kind.Name)
	}
	tree, _ := Merge(piece, ours, pieceNode(base), copyNode(model.Tree, copied))
	takeLearned(tree, ours.Kind, base, model)
	return tree, nil
}

// TakeOver gives a document whose copy of a piece has what the piece has now that differs from
// base, what it was copied from; nil is all that the piece has. left says what stays that the piece has
// no more, since the model uses it.
func TakeOver(doc *setup.Document, part string, base, piece *setup.Document) (tree *setup.Node, left []string,
	err error) {
	copied, err := CopyOf(doc.Setup, part)
	if err != nil {
		return nil, nil, err
	}
	of, there := piece.Setup.PieceCopy()
	if !there || of.Kind != copied.Kind {
		return nil, nil, notAlike(doc.Setup.CopyLabel(copied), copied.Kind.Name)
	}
	tree, left = Merge(doc, copied, pieceNode(base), copyNode(piece.Tree, of))
	takeLearned(tree, of.Kind, base, piece)
	return tree, left, nil
}

// takeLearned takes over what differs of the range of pulses that an add-on module has learned, which
// stands beside it in the link. Without a base what theirs says is taken over.
func takeLearned(tree *setup.Node, kind *setup.PieceKind, base, theirs *setup.Document) {
	if kind.Key != "module" {
		return
	}
	var was *setup.Node
	if base != nil {
		was = base.Tree.At("link", "learned_us")
	}
	switch now := theirs.Tree.At("link", "learned_us"); {
	case now == nil && was != nil:
		drop(tree.Get("link"), "learned_us")
	case now != nil && (was == nil || !was.Equal(now)):
		put(tree.Get("link"), "learned_us", now.Copied())
	}
}

// pieceNode gives the node of the part of a piece; nil where there is no piece.
func pieceNode(piece *setup.Document) *setup.Node {
	if piece == nil {
		return nil
	}
	of, there := piece.Setup.PieceCopy()
	if !there {
		return nil
	}
	return copyNode(piece.Tree, of)
}

// Merge gives the tree of a document in which a copy has what differs between base and theirs,
// nodes of the same kind of part; what differs nowhere, and what belongs to the model, stays.
// Without a base all that theirs has is taken over, and what it does not say stays. left says what
// stays though theirs has it no more, since the document uses it.
func Merge(doc *setup.Document, of setup.Copy, base, theirs *setup.Node) (tree *setup.Node, left []string) {
	tree = doc.Tree.Copied()
	ours := copyNode(tree, of)
	if ours == nil { // a transmitter of which the document says nothing
		ours = groupIn(tree, of.Part)
	}
	base, theirs = orNothing(base), orNothing(theirs)
	m := &merger{s: doc.Setup, of: of, adder: adder{s: doc.Setup}}
	m.fields(base, theirs, ours, slices.Concat(of.Kind.Own, []string{"from", "controls", "pins"}))
	switch of.Kind.Key {
	case "transmitter":
		m.entries("controls", base, theirs, ours)
	case "receiver":
		m.entries("pins", base, theirs, ours)
	}
	return tree, m.left
}

// merger takes over what differs between two states of a piece.
type merger struct {
	s     *setup.Setup
	of    setup.Copy
	adder adder
	left  []string
}

// fields takes over the fields that differ, but for those that are skipped.
func (m *merger) fields(base, theirs, ours *setup.Node, skip []string) {
	for _, key := range keysOf(base, theirs) {
		if slices.Contains(skip, key) {
			continue
		}
		was, now, own := base.Get(key), theirs.Get(key), ours.Get(key)
		switch {
		case was != nil && now != nil && was.Equal(now):
		case now == nil:
			drop(ours, key)
		case now.Kind == setup.Map && own != nil && own.Kind == setup.Map:
			if was == nil || was.Kind != setup.Map {
				was = &setup.Node{Kind: setup.Map}
			}
			m.fields(was, now, own, nil)
		default:
			put(ours, key, now.Copied())
		}
	}
}

// keysOf lists the keys of two maps, each once.
func keysOf(a, b *setup.Node) []string {
	keys := slices.Clone(a.Keys)
	for _, key := range b.Keys {
		if !slices.Contains(keys, key) {
			keys = append(keys, key)
		}
	}
	return keys
}

// entries takes over the controls of a transmitter, or the pins of a receiver.
func (m *merger) entries(list string, base, theirs, ours *setup.Node) {
	own := ours.Get(list)
	if own == nil {
		own = &setup.Node{Kind: setup.List}
	}
	for _, now := range itemsOf(theirs, list) {
		mine := match(list, own.Items, now)
		was := match(list, itemsOf(base, list), now)
		switch {
		case mine == nil && was != nil: // it was taken out of this model
		case mine == nil:
			own.Items = append(own.Items, m.entry(now))
		case list == "pins":
			m.fields(orNothing(was), now, mine, []string{"channel", "label"})
		default:
			m.control(orNothing(was), now, mine)
		}
	}
	for _, was := range itemsOf(base, list) {
		mine := match(list, own.Items, was)
		if mine == nil || match(list, itemsOf(theirs, list), was) != nil {
			continue
		}
		if used := m.used(list, mine); used != "" {
			m.left = append(m.left, used)
			continue
		}
		own.Items = slices.DeleteFunc(own.Items, func(n *setup.Node) bool { return n == mine })
	}
	if len(own.Items) > 0 || ours.Get(list) != nil {
		put(ours, list, own)
	}
}

func itemsOf(n *setup.Node, list string) []*setup.Node {
	if all := n.Get(list); all != nil {
		return all.Items
	}
	return nil
}

func orNothing(n *setup.Node) *setup.Node {
	if n == nil {
		return &setup.Node{Kind: setup.Map}
	}
	return n
}

// match finds the entry of a list that is the same thing as another: the pin of the same number,
// the control of the same id, or else the one that lies on the same way of the same stick.
func match(list string, entries []*setup.Node, other *setup.Node) *setup.Node {
	same := func(keys ...string) *setup.Node {
		for _, n := range entries {
			if !slices.ContainsFunc(keys, func(key string) bool {
				a, b := n.Get(key), other.Get(key)
				return a == nil || b == nil || !a.Equal(b)
			}) {
				return n
			}
		}
		return nil
	}
	if list == "pins" {
		return same("pin")
	}
	if n := same("id"); n != nil {
		return n
	}
	return same("kind", "stick", "along")
}

// entry gives a new control or pin as the model has it.
func (m *merger) entry(of *setup.Node) *setup.Node {
	n := of.Copied()
	if id := n.Get("id"); id != nil && m.s.Item(setup.ID(id.Text)).Kind != 0 {
		put(n, "id", setup.TextNode(m.adder.free(id.Text)))
	}
	return n
}

// control takes over what differs of one control. What it and its positions are called stays.
func (m *merger) control(was, now, mine *setup.Node) {
	m.fields(was, now, mine, []string{"id", "label", "plus", "minus", "start", "positions", "spring_to"})
	m.positions(was, now, mine)
	if to := now.Get("spring_to"); !sameAt(was, now, "spring_to", was.Get("positions"), now.Get("positions")) {
		drop(mine, "spring_to")
		if at := place(now.Get("positions"), to); at >= 0 && at < len(mine.Get("positions").Items) {
			put(mine, "spring_to", mine.Get("positions").Items[at].Copied())
		}
	}
	sprung := mine.Get("kind").Text == "axis" && (mine.Get("spring") == nil || mine.Get("spring").Text != "none")
	if sprung || mine.Get("spring_to") != nil {
		drop(mine, "start") // what is sprung has none
	}
}

// positions gives a switch as many positions as there are now; those that it has keep their names.
func (m *merger) positions(was, now, mine *setup.Node) {
	theirs, ours := now.Get("positions"), mine.Get("positions")
	before := was.Get("positions")
	switch {
	case theirs == nil || before != nil && len(before.Items) == len(theirs.Items):
		return
	case ours == nil:
		put(mine, "positions", theirs.Copied())
		return
	}
	names := ours.Copied()
	names.Items = names.Items[:min(len(names.Items), len(theirs.Items))]
	for _, one := range theirs.Items[len(names.Items):] {
		name := one.Text
		for i := 2; slices.ContainsFunc(names.Items, func(n *setup.Node) bool { return n.Text == name }); i++ {
			name = fmt.Sprintf("%s_%d", one.Text, i)
		}
		names.Items = append(names.Items, setup.TextNode(name))
	}
	put(mine, "positions", names)
}

// sameAt tells whether two switches have a field at the same of their positions.
func sameAt(a, b *setup.Node, field string, of, in *setup.Node) bool {
	return place(of, a.Get(field)) == place(in, b.Get(field))
}

// place finds a name among positions; -1 for none.
func place(positions, name *setup.Node) int {
	if positions == nil || name == nil {
		return -1
	}
	return slices.IndexFunc(positions.Items, func(n *setup.Node) bool { return n.Text == name.Text })
}

// used says what stays since the document uses it; empty where nothing does.
func (m *merger) used(list string, mine *setup.Node) string {
	if list == "controls" {
		item := m.s.Item(setup.ID(mine.Get("id").Text))
		if item.Kind == setup.IsControl && m.s.Graph().IsNamed(item) {
			return m.s.Label(item)
		}
		return ""
	}
	for j, pin := range m.s.Receivers[m.of.Item.Index].Pins {
		ref := setup.PinRef{Receiver: m.of.Item.Index, Pin: j}
		if float64(pin.Pin) == mine.Get("pin").Float() && len(m.s.OnPin(ref)) > 0 {
			return setup.Capital(m.s.PinLabel(ref))
		}
	}
	return ""
}
