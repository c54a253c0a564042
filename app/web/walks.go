package web

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"unicode"

	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/bench"
	"axtren/core/proof"
)

// keptSteps is what is kept of the steps of a walk.
type keptSteps struct {
	Safe  []string     `json:"safe"`
	Shown []string     `json:"shown"`
	Steps []bench.Step `json:"steps"`
}

// mostSteps bounds the steps of a walk, and maxSteps what they take, bytes.
const (
	mostSteps = 1000
	maxSteps  = 4 << 20
)

// ListWalks gives the walks of a model, without their steps.
func (m *models) ListWalks(ctx context.Context,
	r contract.ListWalksRequestObject) (contract.ListWalksResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := m.store.Walks(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := contract.ListWalks200JSONResponse{}
	for i := range list {
		out = append(out, headOf(&list[i]))
	}
	return out, nil
}

// StartWalk works the steps of a walk out for the newest revision.
func (m *models) StartWalk(ctx context.Context,
	r contract.StartWalkRequestObject) (contract.StartWalkResponseObject, error) {
	head, within, done, err := m.searchIn(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	defer done()
	s, whole := head.Doc.Setup, r.Params.Whole != nil && *r.Params.Whole
	p, err := bench.Steps(within, s, whole, proof.Budget{Bytes: searchBytes})
	if err != nil {
		return nil, err
	}
	text, err := json.Marshal(keptSteps{p.Safe, p.Walk.Says(s), p.Steps})
	if err != nil {
		return nil, err
	}
	if len(p.Steps) > mostSteps || len(text) > maxSteps {
		return nil, refuse(http.StatusUnprocessableEntity, "This walk is too long",
			fmt.Sprintf("it has %d steps, and %d are kept: take the one with the fewest", len(p.Steps), mostSteps))
	}
	w := store.Walk{ModelID: r.Id, Revision: head.Number, Whole: whole, Steps: string(text), Script: p.Script(),
		Counts: []int{}}
	for n := range p.Steps {
		w.Counts = append(w.Counts, len(p.Steps[n].Looked()))
	}
	kept, err := m.store.StartWalk(ctx, w)
	if err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, kept)
	return contract.StartWalk201JSONResponse(told), err
}

// GetWalk gives one with its steps.
func (m *models) GetWalk(ctx context.Context,
	r contract.GetWalkRequestObject) (contract.GetWalkResponseObject, error) {
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.GetWalk200JSONResponse(told), err
}

// DropWalk throws one away that nobody has signed.
func (m *models) DropWalk(ctx context.Context,
	r contract.DropWalkRequestObject) (contract.DropWalkResponseObject, error) {
	return contract.DropWalk204Response{}, m.store.DropWalk(ctx, r.Id, r.Walk)
}

// TickWalk keeps what was seen at parts of a step.
func (m *models) TickWalk(ctx context.Context,
	r contract.TickWalkRequestObject) (contract.TickWalkResponseObject, error) {
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	kept, err := stepsOf(w)
	if err != nil {
		return nil, err
	}
	if r.Body.Step < 0 || r.Body.Step >= len(kept.Steps) {
		return nil, refuse(http.StatusUnprocessableEntity, "There is no such step",
			fmt.Sprintf("this walk has %d steps, counted from 0; it is %d", len(kept.Steps), r.Body.Step))
	}
	parts := kept.Steps[r.Body.Step].Looked()
	var ticks []store.Tick
	for _, one := range r.Body.Parts {
		switch {
		case !slices.Contains(parts, one.Part):
			return nil, refuse(http.StatusUnprocessableEntity, "There is no such part at this step",
				fmt.Sprintf("use one of %s; it is %q", strings.Join(parts, ", "), one.Part))
		case !slices.Contains([]string{"", string(contract.As), string(contract.Other),
			string(contract.Nothing)}, one.Seen):
			return nil, refuse(http.StatusUnprocessableEntity, "This is nothing that can be seen",
				fmt.Sprintf("use as, other or nothing, or leave it empty; it is %q", one.Seen))
		case !isText(one.Note, 500):
			return nil, refuse(http.StatusUnprocessableEntity, "This note is too long",
				"write at most 500 letters")
		}
		ticks = append(ticks, store.Tick{Step: r.Body.Step, Part: one.Part, Seen: one.Seen, Note: one.Note})
	}
	if w, err = m.store.KeepTicks(ctx, r.Id, r.Walk, ticks); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.TickWalk200JSONResponse(told), err
}

// SignWalk signs a walk, with a hash of the document for which it was worked out.
func (m *models) SignWalk(ctx context.Context,
	r contract.SignWalkRequestObject) (contract.SignWalkResponseObject, error) {
	by := store.Signature{Who: strings.TrimSpace(r.Body.Who), Battery: strings.TrimSpace(r.Body.Battery),
		Note: strings.TrimSpace(r.Body.Note)}
	switch {
	case by.Who == "":
		return nil, refuse(http.StatusUnprocessableEntity, "Nobody has signed", "write who you are")
	case !isText(by.Who, 80) || !isText(by.Battery, 120) || !isText(by.Note, 2000):
		return nil, refuse(http.StatusUnprocessableEntity, "This is too long to be kept",
			"write a name of at most 80 letters, a battery of 120, a note of 2000")
	}
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	of, err := m.revision(ctx, r.Id, &w.Revision)
	if err != nil {
		return nil, err
	}
	sum := sha256.Sum256(of.Doc.Tree.YAML())
	by.Hash = hex.EncodeToString(sum[:])
	if w, err = m.store.SignWalk(ctx, r.Id, r.Walk, by); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.SignWalk200JSONResponse(told), err
}

// isText tells whether a text has at most so many letters, and nothing that no keyboard gives.
func isText(text string, most int) bool {
	return len([]rune(text)) <= most && !strings.ContainsFunc(text, func(r rune) bool {
		return unicode.IsControl(r) && r != '\n'
	})
}

// stepsOf reads the steps of a walk.
func stepsOf(w *store.Walk) (*keptSteps, error) {
	kept := &keptSteps{}
	if err := json.Unmarshal([]byte(w.Steps), kept); err != nil {
		return nil, fmt.Errorf("the steps of a walk cannot be read: %w", err)
	}
	return kept, nil
}

// headOf tells of a walk without its steps.
func headOf(w *store.Walk) contract.WalkHead {
	head := contract.WalkHead{Id: w.ID, Revision: w.Revision, Whole: w.Whole, MadeAt: w.MadeAt,
		Of: len(w.Counts)}
	for n, parts := range w.Counts {
		ticked, other := 0, false
		for _, tick := range w.Ticks {
			if tick.Step == n {
				ticked++
				other = other || tick.Seen != string(contract.As)
			}
		}
		if ticked == parts {
			head.Done++
		}
		if other {
			head.Other++
		}
	}
	if w.SignedAt != nil {
		head.Signed = &contract.SignedBy{At: *w.SignedAt, Who: w.Who, Battery: w.Battery, Note: w.Note,
			Hash: w.Hash}
	}
	return head
}

// tell tells of a walk with its steps.
func (m *models) tell(ctx context.Context, w *store.Walk) (told contract.Walk, err error) {
	kept, err := stepsOf(w)
	if err != nil {
		return told, err
	}
	head, err := m.store.Head(ctx, w.ModelID)
	if err != nil {
		return told, err
	}
	told = contract.Walk{Head: headOf(w), Now: head.Number, Safe: kept.Safe, Shown: kept.Shown,
		Steps: kept.Steps, Ticks: []contract.WalkTick{}}
	for _, tick := range w.Ticks {
		told.Ticks = append(told.Ticks, contract.WalkTick{Step: tick.Step, Part: tick.Part,
			Seen: contract.WalkTickSeen(tick.Seen), Note: tick.Note})
	}
	return told, nil
}

// GetAgain tells what of a walk has to be tried again for the newest revision: by what was changed.
func (m *models) GetAgain(ctx context.Context,
	r contract.GetAgainRequestObject) (contract.GetAgainResponseObject, error) {
	told, err := m.again(ctx, r.Id, r.Walk)
	return contract.GetAgain200JSONResponse(told), err
}

func (m *models) again(ctx context.Context, model, walk uuid.UUID) (told contract.WalkAgain, err error) {
	w, err := m.store.Walk(ctx, model, walk)
	if err != nil {
		return told, err
	}
	kept, err := stepsOf(w)
	if err != nil {
		return told, err
	}
	then, err := m.store.At(ctx, model, w.Revision)
	if err != nil {
		return told, err
	}
	now, err := m.store.Head(ctx, model)
	if err != nil {
		return told, err
	}
	list, err := bench.Stale(&bench.Past{Doc: then.Doc, Script: w.Script, Steps: kept.Steps}, now.Doc, nil)
	if err != nil {
		return told, err
	}
	return contract.WalkAgain{Revision: now.Number, Steps: bench.StepsOf(list), Of: len(kept.Steps),
		Changes: bench.Causes(list, kept.Steps, now.Doc.Setup)}, nil
}

// GetTrying says in a few words how far the walks of a model are.
func (m *models) GetTrying(ctx context.Context,
	r contract.GetTryingRequestObject) (contract.GetTryingResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	list, err := m.store.Walks(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	says := "never tried"
	if len(list) > 0 {
		head := headOf(&list[0])
		says = fmt.Sprintf("%d of %d tried", head.Done, head.Of)
		if head.Signed != nil {
			says = "tried and signed"
			again, err := m.again(ctx, r.Id, head.Id)
			if err != nil {
				return nil, err
			}
			if len(again.Changes) > 0 {
				says = fmt.Sprintf("%d of %d to try again", again.Steps, again.Of)
			}
		}
	}
	return contract.GetTrying200JSONResponse{Says: says}, nil
}
