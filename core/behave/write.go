package behave

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"

	"axtren/core/fill"
	"axtren/core/parts"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// writer writes a sentence into a tree of the document. What of the sentence was there before keeps its id
// and what it is called, so that whatever refers to it goes on.
type writer struct {
	fill.Values
	s     *setup.Setup // as it was before
	p     *signal.Program
	tree  *setup.Node
	was   *found // the sentence whose place it takes; nil: none
	used  map[string]bool
	taken []string
	key   string // of the main part
}

// Write writes a sentence in the place of the one that it was. It gives the document that is to be, the key
// of the sentence, and in words what it says. The error is setup.Problems.
func Write(doc *setup.Document, p *signal.Program, of fill.Filled) (tree *setup.Node, key, said string,
	err error) {
	all := kinds()
	at := slices.IndexFunc(all, func(k *kind) bool { return k.key == of.Kind && !k.only })
	if at < 0 {
		return nil, "", "", noKind(of.Kind)
	}
	k := all[at]
	w := &writer{Values: of.Values, s: doc.Setup, p: p, tree: doc.Tree, used: map[string]bool{}}
	if of.Was != "" {
		if w.was, err = known(doc.Setup, p, of.Was); err != nil {
			return nil, "", "", err
		}
	}
	for _, place := range k.filled(doc.Setup, nil) {
		if len(place.Choices) == 0 {
			place.Choices = choicesOf(doc.Setup, place.Of)
		}
		place.Choices = append(place.Choices, rowChoices(k, &place, w.Values)...)
		if w.One(place.Key) == "" && w.One(k.instead[place.Key]) != "" {
			continue
		}
		names := len(fill.PositionsOf(doc.Setup, w.One("switch")))
		if err := place.Check("rule", w.Values, names); err != nil {
			return nil, "", "", err
		}
	}
	if err := k.write(w); err != nil {
		return nil, "", "", err
	}
	now, err := setup.FromTree(w.tree)
	if err != nil {
		return nil, "", "", err
	}
	if now, err = w.left(now); err != nil {
		return nil, "", "", err
	}
	if _, err := signal.Compile(now.Setup); err != nil {
		return nil, "", "", setup.Refused("rule", w.called(k), "would go round in a ring: what it looks at is "+
			"what it moves", "let it look at something else, or move something else")
	}
	for _, f := range find(now.Setup, p) {
		if keyOf(now.Setup, f.main) == w.key {
			r := f.rule(now.Setup, p)
			said = r.Sentence()
		}
	}
	return now.Tree, w.key, said, nil
}

// rowChoices are the choices that the rows of another place give.
func rowChoices(k *kind, of *fill.Place, v fill.Values) []fill.Choice {
	var list []fill.Choice
	for _, place := range k.places {
		if place.Key == of.From {
			for i := 0; i < len(v[of.From]); i += len(place.Names) {
				list = append(list, fill.Choice{Value: v[of.From][i], Label: v[of.From][i]})
			}
		}
	}
	return list
}

// known finds a sentence by its key.
func known(s *setup.Setup, p *signal.Program, key string) (*found, error) {
	for _, f := range find(s, p) {
		if keyOf(s, f.main) == key {
			return f, nil
		}
	}
	return nil, setup.Refused("rule.was", key, "is not in this model any more", "open Rules anew")
}

// left takes out what the sentence had before and has no use for now, unless something else has.
func (w *writer) left(doc *setup.Document) (*setup.Document, error) {
	if w.was == nil {
		return doc, nil
	}
	d := setup.Draft{Doc: doc}
	for range w.was.roles { // one may be used by another that goes
		for _, role := range sortedKeys(w.was.roles) {
			part := partNow(d.Doc.Setup, w.s, w.was.roles[role])
			if w.used[role] || part.Kind == 0 || d.Doc.Setup.Graph().IsNamed(part) {
				continue
			}
			if err := d.Remove(part); err != nil {
				return nil, err
			}
		}
	}
	return d.Doc, nil
}

// partNow finds a part of an earlier document.
func partNow(now, was *setup.Setup, part setup.Item) setup.Item {
	if key := was.Key(part); key.ID != "" {
		return now.Item(key.ID)
	}
	return setup.Item{}
}

// Remove takes a sentence out, with what only it used. It gives the document that is to be, and in words
// what was done. The error is setup.Problems: it lists what refers to it, unless that is to go along.
func Remove(doc *setup.Document, p *signal.Program, key string, along bool) (tree *setup.Node, said string,
	err error) {
	f, err := known(doc.Setup, p, key)
	if err != nil {
		return nil, "", err
	}
	r := f.rule(doc.Setup, p)
	if r.Home != "" {
		return nil, "", setup.Refused("rule.was", r.Title, "is changed in "+words.Capital(r.Home),
			"take it apart there")
	}
	d := setup.Draft{Doc: doc}
	for range f.roles {
		for _, role := range sortedKeys(f.roles) {
			part := partNow(d.Doc.Setup, doc.Setup, f.roles[role])
			if part.Kind == 0 || d.Doc.Setup.Graph().IsNamed(part) {
				continue
			}
			if err := d.Remove(part); err != nil {
				return nil, "", err
			}
		}
	}
	// what others refer to: with them, or not at all
	for _, role := range sortedKeys(f.roles) {
		part := partNow(d.Doc.Setup, doc.Setup, f.roles[role])
		if part.Kind == 0 {
			continue
		}
		tree, err := parts.Remove(d.Doc, keyOf(d.Doc.Setup, part), along)
		if err != nil {
			return nil, "", err
		}
		now, err := setup.FromTree(tree)
		if err != nil {
			return nil, "", err
		}
		d.Doc = now
	}
	return d.Doc.Tree, r.Title + ": the rule was removed", nil
}

// put writes a part of the sentence, for a role; what it is called stays where it is there already. It gives
// its id.
func (w *writer) put(role, list, stem, label string, fields ...any) string {
	if w.was != nil {
		if was, had := w.was.roles[role]; had && setup.ListOf(was.Kind) == list {
			label = ""
			if old := w.tree.At(list, fmt.Sprint(was.Index)).Get("label"); old != nil {
				label = old.Text
			}
		}
	}
	return w.named(role, list, stem, label, fields...)
}

// named writes a part of the sentence, for a role; empty: the main part. It gives its id.
func (w *writer) named(role, list, stem, label string, fields ...any) string {
	var id string
	was, had := setup.Item{}, false
	if w.was != nil {
		was, had = w.was.roles[role]
		had = had && setup.ListOf(was.Kind) == list && w.s.Key(was).ID != ""
	}
	if had {
		id = string(w.s.Key(was).ID)
	} else {
		id = w.s.FreeID(stem, w.taken...)
		w.taken = append(w.taken, id)
	}
	pairs := []any{"id", id}
	if label != "" {
		pairs = append(pairs, "label", label)
	}
	part := setup.GroupNode(append(pairs, fields...)...)
	switch {
	case had:
		w.set(fmt.Sprintf("/%s/%d", list, was.Index), part)
	case w.tree.Get(list) == nil:
		w.set("/"+list, setup.NodeOf([]any{part}))
	default:
		w.set("/"+list+"/-", part)
	}
	w.used[role] = true
	if role == "" {
		w.key = list + "/" + id
	}
	return id
}

func (w *writer) set(pointer string, value *setup.Node) {
	tree, err := w.tree.Set(pointer, value)
	if err != nil {
		panic(err) // the places are those of the document that was read
	}
	w.tree = tree
}

// main writes the main part, called as the person calls it.
func (w *writer) main(list, stem string, fields ...any) string {
	called := w.One("called")
	if called != "" {
		stem = slug(called, stem)
	}
	return w.named("", list, stem, called, fields...)
}

// called gives what the sentence is called, or what kind it is.
func (w *writer) called(k *kind) string {
	if name := w.One("called"); name != "" {
		return name
	}
	return k.title
}

// slug makes an id of what something is called.
func slug(called, stem string) string {
	var b strings.Builder
	for _, r := range strings.ToLower(called) {
		switch {
		case r < 128 && (unicode.IsLetter(r) || b.Len() > 0 && unicode.IsDigit(r)):
			b.WriteRune(r)
		case b.Len() > 0 && !strings.HasSuffix(b.String(), "_"):
			b.WriteByte('_')
		}
	}
	text := strings.TrimRight(b.String()[:min(b.Len(), 24)], "_")
	if text == "" || text == "not" || text == "link" || text == "transmitter" || text == "power_on" {
		return stem
	}
	return text
}

// name gives what a part besides the main one is called: as the sentence, and what it is for.
func (w *writer) name(what string) string {
	name := w.One("called")
	if name == "" {
		return words.Capital(what)
	}
	letters := []rune(name)
	return string(letters[:min(len(letters), words.LongestName-len([]rune(what))-2)]) + ": " + what
}

// margin is how far a lever has to come back before a condition on it lets go, percent: so that it does not
// chatter. Common practice, no source.
const margin = 4

// truth gives a condition of a place as the document writes it. A lever beyond a level, lever>30 or
// lever<-30, gets a block of its own, or the one that there is.
func (w *writer) truth(place, text string) (string, error) {
	body, not := base(setup.Truth(text))
	at := strings.IndexAny(string(body), "<>")
	if at < 0 {
		if _, err := w.s.Fact(body); err != nil && !slices.Contains(w.taken, string(body)) {
			return "", setup.Refused("rule."+place, text, "is no condition of this model",
				"move what it is, or choose it from the list")
		}
		return text, nil
	}
	of, kind := string(body[:at]), map[byte]string{'>': "above", '<': "below"}[body[at]]
	level, ok := fill.ReadFigure(string(body[at+1:]))
	if item := w.s.Item(setup.ID(of)); item.Kind != setup.IsControl && item.Kind != setup.IsDemand || !ok ||
		math.Abs(level) > 100 {
		return "", setup.Refused("rule."+place, text, "is no position of a lever", "use a lever and −100 to 100")
	}
	for i := range w.s.Logic {
		b := &w.s.Logic[i]
		if spec, ok := b.Spec.(*setup.Level); ok && b.Block == kind && spec.Of.Ref == of && spec.Level == level {
			return prefixed(not, string(b.ID)), nil
		}
	}
	beyond := map[string]string{"above": "above", "below": "below"}[kind]
	id := w.put("level:"+text, "logic", slug(of+"_"+kind, "level"), fmt.Sprintf("%s %s %s %%",
		w.s.Named(setup.ID(of)), beyond, words.SignedShort(level)), "block", kind, "of", of, "level", level,
		"hysteresis", float64(margin))
	return prefixed(not, id), nil
}

func prefixed(not bool, text string) string {
	if not {
		return "not " + text
	}
	return text
}

// truths gives the conditions of a place as the document writes them.
func (w *writer) truths(place string) ([]any, error) {
	list := []any{}
	for _, one := range w.Values[place] {
		t, err := w.truth(place, one)
		if err != nil {
			return nil, err
		}
		list = append(list, t)
	}
	return list, nil
}

// with adds fields that a part has only where they are not as usual.
func with(fields []any, key string, value any, usual any) []any {
	if value == usual {
		return fields
	}
	return append(fields, key, value)
}
