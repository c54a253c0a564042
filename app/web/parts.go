package web

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"github.com/aymanbagabas/go-udiff"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/codes"
	"axtren/core/edit"
	"axtren/core/feel"
	"axtren/core/lines"
	"axtren/core/mixing"
	"axtren/core/parts"
	"axtren/core/plan"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/travel"
	"axtren/core/words"
)

// GetForm gives the whole of one part as fields.
func (m *models) GetForm(ctx context.Context,
	r contract.GetFormRequestObject) (contract.GetFormResponseObject, error) {
	head, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	form, err := lines.Form(head.Doc, p, r.Params.Part)
	if err != nil {
		return nil, err
	}
	return contract.GetForm200JSONResponse(*form), nil
}

// Act changes which parts there are.
func (m *models) Act(ctx context.Context, r contract.ActRequestObject) (contract.ActResponseObject, error) {
	a, p := r.Body, r.Params
	added := ""
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Change(ctx, r.Id, n, by, func(doc *setup.Document) (*edit.Result, error) {
				if a.Act == contract.Set {
					return set(doc, a)
				}
				tree, part, said, err := act(doc, a)
				if err != nil {
					return nil, err
				}
				added = part
				result, err := diffed(doc, tree)
				if err == nil && said == "" {
					said = actWords(doc, result.Doc, a, part)
				}
				if err == nil {
					result.Words = said
				}
				return result, err
			})
		})
	if added != "" {
		revised.Body.Part = &added
	}
	return contract.Act200JSONResponse{RevisedJSONResponse: revised}, err
}

// set sets a field to a value.
func set(doc *setup.Document, a *contract.Act) (*edit.Result, error) {
	if a.Part == nil || a.Field == nil {
		return nil, setup.Problems{{Path: "field", Message: "is missing",
			Remedy: "say which field of which part is to be set"}}
	}
	p, err := edit.Playable(doc)
	if err != nil {
		return nil, err
	}
	f, err := lines.FieldOf(doc, p, nil, *a.Part, *a.Field)
	if err != nil {
		return nil, err
	}
	var value any
	if a.Value != nil {
		value = *a.Value
	}
	ops, err := lines.Set(f, value)
	if err == nil && len(ops) == 0 {
		err = refuse(http.StatusConflict, "Nothing would change", "")
	}
	if err != nil {
		return nil, err
	}
	return edit.ApplyOps(doc, ops)
}

// actWords says what an act did.
func actWords(before, after *setup.Document, a *contract.Act, added string) string {
	name := func(doc *setup.Document, part *string) string {
		if part == nil {
			return ""
		}
		return parts.Name(doc.Setup, *part)
	}
	what := words.Capital(name(before, a.Part))
	switch a.Act {
	case contract.Add:
		return words.Capital(name(after, &added)) + " was added"
	case contract.Remove:
		if a.Along != nil && *a.Along {
			return what + " was removed, with what used it"
		}
		return what + " was removed"
	case contract.Rename:
		return what + " has the short name " + *a.To + " now"
	case contract.Move:
		return what + " was moved among the others"
	case contract.Put:
		return what + " was put where you wanted it, and stays there"
	case contract.Mix:
		ways := map[string]string{mixing.OneStick: "one stick for both", mixing.Levers: "a lever each",
			mixing.Both: "one stick and a lever each"}
		return what + " and " + name(before, a.To) + ": " + ways[a.Mixing.Way]
	}
	return what + " and " + name(before, a.To) + " have exchanged their channels"
}

// diffed applies what differs between a document and the tree that it is to be.
func diffed(doc *setup.Document, tree *setup.Node) (*edit.Result, error) {
	if _, err := setup.FromTree(tree); err != nil {
		return nil, err // its own words, before those of a patch half done
	}
	ops := edit.Diff(doc.Tree, tree)
	if len(ops) == 0 {
		return nil, refuse(http.StatusConflict, "Nothing would change", "")
	}
	return edit.ApplyOps(doc, ops)
}

// act gives the tree that is to be, the part that was added, and in words what was done where
// the act itself says it.
func act(doc *setup.Document, a *contract.Act) (tree *setup.Node, added, said string, err error) {
	text := func(s *string) string {
		if s == nil {
			return ""
		}
		return *s
	}
	part, moved, by := text(a.Part), []string{}, 0
	if a.By != nil {
		by = *a.By
	}
	var value any
	if a.Value != nil {
		value = *a.Value
	}
	if a.Moved != nil {
		moved = *a.Moved
	}
	switch a.Act {
	case contract.Add:
		tree, added, err = parts.Add(doc, part, text(a.Kind), text(a.Of))
	case contract.Remove:
		tree, err = parts.Remove(doc, part, a.Along != nil && *a.Along)
	case contract.Rename:
		tree, err = parts.Rename(doc, part, text(a.To))
	case contract.Move:
		tree, err = parts.Move(doc, part, by)
	case contract.Exchange:
		tree, err = parts.Exchange(doc, part, text(a.To))
	case contract.Mix:
		first, second := strings.TrimPrefix(part, "outputs/"), strings.TrimPrefix(text(a.To), "outputs/")
		if a.Mixing == nil {
			return nil, "", "", setup.Problems{{Path: "mixing", Message: "is missing",
				Remedy: "say how the two are to be driven"}}
		}
		tree, err = mixing.Write(doc, first, second, *a.Mixing)
	case contract.Moved:
		var p *signal.Program
		if p, err = edit.Playable(doc); err == nil {
			tree, said, err = parts.MovedBy(doc, p, strings.TrimPrefix(part, "outputs/"), text(a.Kind), moved)
		}
	case contract.Instead:
		if len(moved) != 1 {
			return nil, "", "", setup.Problems{{Path: "moved", Message: "names no control",
				Remedy: "say which control is to act instead"}}
		}
		tree, said, err = parts.Instead(doc, text(a.Of), strings.TrimPrefix(part, "controls/"), moved[0])
	case contract.CarryOut:
		if tree, said, err = plan.Carry(doc); err == nil {
			said = "The plan was carried out: " + said
		}
	case contract.Put:
		tree, err = plan.Put(doc, part, text(a.To))
	case contract.Chart:
		chart, _ := value.(string)
		tree, said, err = codes.SetChart(doc, part, text(a.Kind), chart)
	case contract.PinWish, contract.PinLamp:
		answer, _ := value.(string)
		change := map[contract.ActAct]func(*setup.Document, string, string, string) (*setup.Node, string, error){
			contract.PinWish: codes.SetWish, contract.PinLamp: codes.Lamp}[a.Act]
		tree, said, err = change(doc, part, text(a.Of), answer)
	case contract.PinCode:
		counted, _ := value.(float64) // no number is no code
		tree, said, err = codes.Note(doc, part, text(a.Of), by, int(counted))
	case contract.OnStand:
		at, _ := value.(float64)
		tree, said, err = travel.Apply(doc, part, travel.Note{What: text(a.Of), How: text(a.To), Value: at,
			Other: value == "other", On: time.Now().Format("2 Jan 2006")})
	case contract.Feels:
		if a.Feel == nil {
			return nil, "", "", setup.Refused("feel", "", "is missing", "say what is to be changed")
		}
		tree, said, err = feel.Apply(doc, part, *a.Feel)
	case contract.WriteScheme:
		if a.Scheme == nil {
			return nil, "", "", setup.Refused("scheme", "", "is missing", "say how the functions are to go together")
		}
		tree, said, err = mixing.WriteScheme(doc, *a.Scheme)
	case contract.Apart:
		tree, said, err = mixing.RemoveScheme(doc, text(a.Of))
	case contract.WriteRule, contract.Unrule:
		tree, added, said, err = ruled(doc, a, text(a.Of))
	case contract.Like:
		if tree, said, err = parts.Like(doc, text(a.Kind)); err == nil {
			said = "The transmitter is like " + said + " now"
		}
	default:
		err = setup.Problems{{Path: "act", Value: string(a.Act), Message: "is no act",
			Remedy: "use add, remove, rename, move, exchange, mix, set, moved, instead, like, plan, put, chart, " +
				"pin_wish, pin_code, pin_lamp, stand, feel, scheme, apart, rule or unrule"}}
	}
	return tree, added, said, err
}

// PutText makes the document what a text says.
func (m *models) PutText(ctx context.Context,
	r contract.PutTextRequestObject) (contract.PutTextResponseObject, error) {
	text, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	read := setup.ReadYAML
	if strings.HasPrefix(strings.TrimSpace(string(text)), "{") {
		read = setup.ReadJSON
	}
	doc, err := read(text)
	if err != nil {
		return nil, err
	}
	p := r.Params
	revised, err := m.revise(p.IfMatch, p.AxtrenPage, p.AxtrenEdit,
		func(n int, by store.Origin) (*store.Head, error) {
			return m.store.Change(ctx, r.Id, n, by, func(now *setup.Document) (*edit.Result,
				error) {
				return diffed(now, doc.Tree)
			})
		})
	return contract.PutText200JSONResponse{RevisedJSONResponse: revised}, err
}

// GetDifferences compares two revisions.
func (m *models) GetDifferences(ctx context.Context,
	r contract.GetDifferencesRequestObject) (contract.GetDifferencesResponseObject, error) {
	from, err := m.store.At(ctx, r.Id, r.Params.From)
	if err != nil {
		return nil, err
	}
	to, err := m.store.At(ctx, r.Id, r.Params.To)
	if err != nil {
		return nil, err
	}
	d := contract.Differences{Words: "nothing differs"}
	if ops := edit.Diff(from.Doc.Tree, to.Doc.Tree); len(ops) > 0 {
		d.Words = edit.AllWords(from.Doc, to.Doc, ops)
	}
	if d.Lines, err = textLines(from.Doc.Tree.YAML(), to.Doc.Tree.YAML()); err != nil {
		return nil, err
	}
	return contract.GetDifferences200JSONResponse(d), nil
}

// textLine is one line of a comparison.
type textLine = struct {
	Kind contract.DifferencesLinesKind `json:"kind"`
	Text string                        `json:"text"`
}

// textLines compares two texts line by line, with three lines around each change.
func textLines(from, to []byte) ([]textLine, error) {
	before, after := string(bytes.TrimSpace(from))+"\n", string(bytes.TrimSpace(to))+"\n"
	out := []textLine{}
	changed, err := udiff.ToUnifiedDiff("", "", before, udiff.Lines(before, after), 3)
	if err != nil {
		return nil, fmt.Errorf("comparing two texts: %w", err)
	}
	kinds := map[udiff.OpKind]contract.DifferencesLinesKind{udiff.Equal: contract.Same,
		udiff.Delete: contract.Gone, udiff.Insert: contract.New}
	for i, hunk := range changed.Hunks {
		if i > 0 {
			out = append(out, textLine{contract.Gap, ""})
		}
		for _, line := range hunk.Lines {
			out = append(out, textLine{kinds[line.Kind], strings.TrimSuffix(line.Content, "\n")})
		}
	}
	return out, nil
}
