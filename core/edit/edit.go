// Package edit applies JSON Patches (RFC 6902) to setup documents and gives
// for each patch its inverse and what it changed in words.
//
// A document is sparse: a patch uses add to set a field and remove to go back
// to its default. Places in lists move, so every step into an element that has
// an id must be preceded by a test of that id: a patch made against another
// order then fails instead of hitting the wrong element.
package edit

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// Op is one operation of a patch.
type Op struct {
	Op    string           `json:"op"`
	Path  string           `json:"path"`
	From  string           `json:"from,omitempty"`
	Value *json.RawMessage `json:"value,omitempty"`
}

// maxOps bounds a patch; an edit by hand has fewer than ten.
const maxOps = 500

// Result is what a patch did to a document.
type Result struct {
	Doc     *setup.Document
	Program *signal.Program
	Patch   []Op   // the patch, with ids given to new mixes and shares
	Inverse []Op   // takes Doc back to what it was
	Words   string // Right track: low −96 → −80
}

// Apply applies a patch to doc, which stays as it is. The error is
// setup.Problems; then nothing has changed.
func Apply(doc *setup.Document, patch []byte) (*Result, error) {
	ops, err := parse(patch)
	if err != nil {
		return nil, err
	}
	return ApplyOps(doc, ops)
}

// ApplyOps is Apply for a patch that was made here.
func ApplyOps(doc *setup.Document, ops []Op) (*Result, error) {
	w := newWork(doc)
	for i, op := range ops {
		if err := w.apply(i, op); err != nil {
			return nil, err
		}
	}
	for _, op := range missingIDs(w.tree) {
		if err := w.apply(len(w.done), op); err != nil {
			return nil, err
		}
	}
	after, err := setup.FromTree(w.tree)
	if err != nil {
		return nil, err
	}
	if err := kept(w.tree); err != nil {
		return nil, err
	}
	if a, b := doc.Setup.Piece, after.Setup.Piece; (a == nil) != (b == nil) || a != nil && a.Kind != b.Kind {
		return nil, problem("piece", "", "what is kept as a model stays one, and so does a piece of the shelf",
			"import it anew as what it is to be")
	}
	program, err := Playable(after)
	if err != nil {
		return nil, err
	}
	return &Result{after, program, w.done, w.inverse, summary(doc, after, w.done)}, nil
}

// bounded refuses names and labels that are longer than words.LongestName.
func bounded(tree *setup.Node) error {
	var faults setup.Problems
	var look func(n *setup.Node, path string)
	look = func(n *setup.Node, path string) {
		for i, item := range n.Items {
			at := fmt.Sprintf("%s[%d]", path, i)
			if n.Kind == setup.Map {
				at = strings.TrimPrefix(path+"."+n.Keys[i], ".")
				if isName(n.Keys[i]) && item.Kind == setup.Text &&
					utf8.RuneCountInString(item.Text) > words.LongestName {
					faults = append(faults, setup.Problem{Path: at,
						Value:   fmt.Sprintf("%d letters", utf8.RuneCountInString(item.Text)),
						Message: fmt.Sprintf("is longer than %d letters", words.LongestName),
						Remedy:  "shorten it; there is room for more in notes"})
				}
			}
			look(item, at)
		}
	}
	look(tree, "")
	if faults != nil {
		return faults
	}
	return nil
}

// isName tells the fields that a person calls things by.
func isName(key string) bool {
	return key == "name" || key == "label" || key == "type" || key == "plugs_into"
}

// kept holds what is asked of a tree before it is kept.
func kept(tree *setup.Node) error {
	if err := setup.CheckSize(tree); err != nil {
		return err
	}
	return bounded(tree)
}

// Playable compiles a document; a ring is a problem of the document.
func Playable(doc *setup.Document) (*signal.Program, error) {
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		return nil, setup.Problems{{Message: err.Error(), Remedy: "break the ring at one of its members"}}
	}
	return p, nil
}

// WithIDs gives every mix and share of a document an id. The error is setup.Problems,
// also where the document as it is kept would be too large.
func WithIDs(doc *setup.Document) (*setup.Document, error) {
	w := newWork(doc)
	for i, op := range missingIDs(doc.Tree) {
		if err := w.apply(i, op); err != nil {
			return nil, err
		}
	}
	if err := kept(w.tree); err != nil {
		return nil, err
	}
	return setup.FromTree(w.tree)
}

func problem(path, value, message, remedy string) error {
	return setup.Problems{{Path: path, Value: value, Message: message, Remedy: remedy}}
}

func parse(patch []byte) ([]Op, error) {
	if _, ps := setup.ParseJSON(patch); ps != nil {
		return nil, ps
	}
	var ops []Op
	if err := json.Unmarshal(patch, &ops); err != nil {
		return nil, problem("patch", "", "is not a JSON Patch: "+err.Error(),
			"send a list of operations (RFC 6902)")
	}
	if len(ops) == 0 || len(ops) > maxOps {
		return nil, problem("patch", strconv.Itoa(len(ops))+" operations",
			"needs 1 to "+strconv.Itoa(maxOps)+" operations", "split it")
	}
	return ops, nil
}

// work is a patch half done.
type work struct {
	tree    *setup.Node
	grown   int // bytes that the patch has brought so far
	tested  map[string]bool
	moved   map[string]string // of a list element that is no longer where the patch has it: where it is
	done    []Op
	inverse []Op
}

func newWork(doc *setup.Document) *work {
	return &work{tree: doc.Tree, tested: map[string]bool{}, moved: map[string]string{}}
}

func (w *work) apply(i int, op Op) error {
	path := fmt.Sprintf("patch[%d]", i)
	if (op.Path != "" && op.Path[0] != '/') || (op.From != "" && op.From[0] != '/') {
		return problem(path, op.Path, "is not a JSON Pointer", "start it with /")
	}
	if op.Op != "test" {
		op.Path = w.here(op.Path)
	}
	switch op.Op {
	case "test":
		if op.Value == nil {
			return problem(path, "", "has no value", "add the value to test for")
		}
		op.Path = w.find(op.Path, *op.Value)
	case "add", "replace":
		if op.Value == nil {
			return problem(path, "", "has no value", "add the value to set")
		}
		if err := w.guarded(path, op); err != nil {
			return err
		}
	case "remove":
		if err := w.guarded(path, op); err != nil {
			return err
		}
	case "move", "copy":
		return w.moveOrCopy(i, op)
	default:
		return problem(path, op.Op, "is no operation", "use test, add, remove, replace, move or copy")
	}
	back, err := w.invert(path, op)
	if err != nil {
		return err
	}
	if err := w.run(path, op); err != nil {
		return err
	}
	if op.Op == "test" {
		w.tested[op.Path] = true
	} else {
		w.inverse = slices.Concat(w.tests(back), back, w.inverse)
	}
	w.done = append(w.done, op)
	return nil
}

// find gives where the list element that a test names stands now: another edit
// may have moved it since the patch was made.
func (w *work) find(path string, id json.RawMessage) string {
	element, ok := strings.CutSuffix(path, "/id")
	cut := strings.LastIndexByte(element, '/')
	if !ok || cut < 0 {
		return path
	}
	want, ps := setup.ParseJSON(id)
	list := w.tree.At(setup.PointerParts(element[:cut])...)
	if ps != nil || list == nil || list.Kind != setup.List {
		return path
	}
	if now := w.tree.At(setup.PointerParts(path)...); now != nil && now.Equal(want) {
		delete(w.moved, element)
		return path
	}
	for i, item := range list.Items {
		if own := item.Get("id"); own != nil && own.Equal(want) {
			to := fmt.Sprintf("%s/%d", element[:cut], i)
			w.moved[element] = to
			return to + "/id"
		}
	}
	return path
}

// here gives where a place of the patch is now.
func (w *work) here(path string) string {
	for from, to := range w.moved {
		if strings.HasPrefix(path, from+"/") || path == from {
			return to + path[len(from):]
		}
	}
	return path
}

// moveOrCopy is a remove and an add, so that its inverse is theirs.
func (w *work) moveOrCopy(i int, op Op) error {
	n := w.tree.At(setup.PointerParts(op.From)...)
	if n == nil {
		return problem(fmt.Sprintf("patch[%d]", i), op.From, "there is nothing at from",
			"look at the newest revision")
	}
	raw := json.RawMessage(n.JSON())
	if op.Op == "move" {
		if err := w.apply(i, Op{Op: "remove", Path: op.From}); err != nil {
			return err
		}
	}
	return w.apply(i, Op{Op: "add", Path: op.Path, Value: &raw})
}

// guarded refuses a step into a list element whose id was not tested before.
// To insert before an element is no step into it.
func (w *work) guarded(path string, op Op) error {
	parts := setup.PointerParts(op.Path)
	last := len(parts)
	if op.Op == "add" {
		last--
	}
	for end := 1; end <= last; end++ {
		list := w.tree.At(parts[:end-1]...)
		element := w.tree.At(parts[:end]...)
		if list == nil || list.Kind != setup.List || element.Get("id") == nil {
			continue
		}
		if test := "/" + strings.Join(parts[:end], "/") + "/id"; !w.tested[test] {
			return problem(path, op.Path, "steps into a list without a test of the element's id",
				"put a test of "+test+" before it")
		}
	}
	return nil
}

// invert gives the operations that take op back, in order.
func (w *work) invert(path string, op Op) ([]Op, error) {
	if op.Op == "test" {
		return nil, nil
	}
	parts := setup.PointerParts(op.Path)
	if len(parts) == 0 {
		return nil, problem(path, "", "replaces the whole document", "import it as a new model")
	}
	parent, last := w.tree.At(parts[:len(parts)-1]...), parts[len(parts)-1]
	if parent == nil || parent.Kind < setup.List {
		return nil, problem(path, op.Path, "there is no such place", "look at the newest revision")
	}
	old := w.tree.At(parts...)
	put := func() Op {
		raw := json.RawMessage(old.JSON())
		return Op{Op: "add", Path: op.Path, Value: &raw}
	}
	switch {
	case op.Op != "add" && old == nil:
		return nil, problem(path, op.Path, "there is nothing to "+op.Op, "look at the newest revision")
	case op.Op == "remove", parent.Kind == setup.Map && old != nil:
		return []Op{put()}, nil
	case op.Op == "replace":
		return []Op{{Op: "remove", Path: op.Path}, put()}, nil
	case last == "-":
		return []Op{{Op: "remove", Path: strings.TrimSuffix(op.Path, "-") + strconv.Itoa(len(parent.Items))}},
			nil
	}
	return []Op{{Op: "remove", Path: op.Path}}, nil
}

// tests gives a test of the id of every list element that ops step into, as
// they stand now.
func (w *work) tests(ops []Op) []Op {
	var tests []Op
	if len(ops) == 0 {
		return nil
	}
	parts := setup.PointerParts(ops[0].Path)
	if ops[0].Op == "add" {
		parts = parts[:len(parts)-1]
	}
	for end := 1; end <= len(parts); end++ {
		list, id := w.tree.At(parts[:end-1]...), w.tree.At(parts[:end]...).Get("id")
		if list.Kind == setup.List && id != nil {
			raw := json.RawMessage(id.JSON())
			tests = append(tests, Op{Op: "test", Path: "/" + strings.Join(parts[:end], "/") + "/id",
				Value: &raw})
		}
	}
	return tests
}

// run does one operation on the tree.
func (w *work) run(path string, op Op) error {
	unfit := func(err error) error {
		return problem(path, op.Path, "does not fit the document: "+err.Error(),
			"look at the newest revision")
	}
	parts := setup.PointerParts(op.Path)
	var value *setup.Node
	if op.Value != nil && op.Op != "remove" {
		n, ps := setup.ParseJSON(*op.Value)
		if ps != nil {
			return ps
		}
		value = n.Unplaced()
	}
	if op.Op == "test" {
		if at := w.tree.At(parts...); at == nil || !at.Equal(value) {
			return problem(path, op.Path, "does not fit the document: it holds something else",
				"look at the newest revision")
		}
		return nil
	}
	tree, err := w.tree.With(parts, func(parent *setup.Node, last string) error {
		switch {
		case op.Op == "remove":
			return parent.Remove(last)
		case op.Op == "replace" && parent.At(last) == nil:
			return errors.New("there is nothing to replace")
		case op.Op == "replace" && parent.Kind == setup.List:
			if err := parent.Remove(last); err != nil {
				return err
			}
		}
		return parent.Put(last, value)
	})
	if err != nil {
		return unfit(err)
	}
	if w.grown += len(op.Path) + size(op.Value); w.grown > setup.MaxBytes {
		return problem(path, op.Path, fmt.Sprintf("brings more than %d bytes", setup.MaxBytes),
			"split the patch")
	}
	w.tree = tree
	return nil
}

func size(value *json.RawMessage) int {
	if value == nil {
		return 0
	}
	return len(*value)
}

// missingIDs gives the operations that give every mix and share an id.
func missingIDs(tree *setup.Node) []Op {
	var ops []Op
	taken := map[string]bool{}
	collectIDs(tree, taken)
	for list, stem := range map[string]string{"mixes": "mix_", "shares": "share_"} {
		n := tree.Get(list)
		if n == nil || n.Kind != setup.List {
			continue
		}
		for i, item := range n.Items {
			if item.Kind != setup.Map || item.Get("id") != nil {
				continue
			}
			next := 1
			for taken[stem+strconv.Itoa(next)] {
				next++
			}
			id := stem + strconv.Itoa(next)
			taken[id] = true
			raw := json.RawMessage(strconv.Quote(id))
			ops = append(ops, Op{Op: "add", Path: fmt.Sprintf("/%s/%d/id", list, i), Value: &raw})
		}
	}
	slices.SortFunc(ops, func(a, b Op) int { return strings.Compare(a.Path, b.Path) })
	return ops
}

func collectIDs(n *setup.Node, taken map[string]bool) {
	if id := n.Get("id"); id != nil {
		taken[id.Text] = true
	}
	for _, item := range n.Items {
		collectIDs(item, taken)
	}
}
