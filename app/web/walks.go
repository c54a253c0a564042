package web

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"image"
	_ "image/jpeg" // photographs
	_ "image/png"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	appsheet "axtren/app/sheet"
	"axtren/app/store"
	"axtren/core/bench"
	"axtren/core/diagnose"
	"axtren/core/proof"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/words"
)

// keptSteps is what is kept of the steps of a walk.
type keptSteps struct {
	Safe   []string            `json:"safe"`
	Taught []string            `json:"taught"`
	Shown  []string            `json:"shown"`
	Of     []string            `json:"of"`   // the parts that it is of, in words; empty: all
	Ways   []contract.WalkWays `json:"ways"` // what each can be seen to do
	Steps  []bench.Step        `json:"steps"`
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
	s, wish := head.Doc.Setup, bench.Wish{Whole: r.Params.Whole != nil && *r.Params.Whole}
	if r.Params.Again != nil && *r.Params.Again {
		if wish.Only, err = m.outOfDate(ctx, head); err != nil {
			return nil, err
		}
	}
	p, err := bench.Steps(within, s, wish, proof.Budget{Bytes: searchBytes})
	if err != nil {
		return nil, err
	}
	kept := keptSteps{Safe: p.Safe, Taught: p.Taught, Shown: p.Walk.Says(s), Of: labelsOf(s, wish.Only),
		Ways: waysOf(s), Steps: p.Steps}
	text, err := json.Marshal(kept)
	if err != nil {
		return nil, err
	}
	if len(p.Steps) > mostSteps || len(text) > maxSteps {
		return nil, refuse(http.StatusUnprocessableEntity, "This walk is too long",
			fmt.Sprintf("it has %d steps, and %d are kept: take the one with the fewest", len(p.Steps), mostSteps))
	}
	w := store.Walk{ModelID: r.Id, Revision: head.Number, Whole: wish.Whole, Steps: string(text),
		Script: p.Script(), Counts: []int{}}
	for _, id := range wish.Only {
		w.Devices = append(w.Devices, string(id))
	}
	for n := range p.Steps {
		w.Counts = append(w.Counts, len(p.Steps[n].Looked()))
	}
	started, err := m.store.StartWalk(ctx, w)
	if err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, started)
	return contract.StartWalk201JSONResponse(told), err
}

// outOfDate lists the devices that have to be tried again.
func (m *models) outOfDate(ctx context.Context, head *store.Head) ([]setup.ID, error) {
	_, pasts, err := m.pasts(ctx, head.ModelID)
	if err != nil {
		return nil, err
	}
	list, err := bench.Stale(pasts, head.Doc)
	if err != nil {
		return nil, err
	}
	only := bench.DevicesOf(list, head.Doc.Setup)
	if len(pasts) == 0 || len(only) == 0 {
		return nil, refuse(http.StatusConflict, "Nothing has to be tried again",
			"no walk was signed yet, or all of it still stands: try the whole model")
	}
	return only, nil
}

// labelsOf names devices.
func labelsOf(s *setup.Setup, ids []setup.ID) []string {
	list := []string{}
	for _, id := range ids {
		list = append(list, words.Capital(s.Named(id)))
	}
	return list
}

// waysOf says what each device can be seen to do.
func waysOf(s *setup.Setup) []contract.WalkWays {
	list := []contract.WalkWays{}
	p, err := signal.Compile(s)
	if err != nil {
		return list
	}
	for _, one := range diagnose.SightsOf(p).Devices {
		list = append(list, contract.WalkWays{Of: "devices/" + one.ID, Says: one.Says})
	}
	return list
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
	var ticks []store.Tick
	for _, one := range r.Body.Parts {
		tick := store.Tick{Step: r.Body.Step, Part: one.Part, Seen: one.Seen, Note: one.Note}
		if one.Does != nil {
			tick.Does = *one.Does
		}
		if one.Reads != nil {
			tick.Reads = strings.TrimSpace(*one.Reads)
		}
		if err := kept.fits(&tick); err != nil {
			return nil, err
		}
		ticks = append(ticks, tick)
	}
	if w, err = m.store.KeepTicks(ctx, r.Id, r.Walk, ticks); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.TickWalk200JSONResponse(told), err
}

// fits tells whether something can have been seen at a step. Where a display reads otherwise than it must,
// what was seen is otherwise, whatever was said of it.
func (kept *keptSteps) fits(tick *store.Tick) error {
	step := &kept.Steps[tick.Step]
	parts := step.Looked()
	part := slices.IndexFunc(step.Parts, func(one bench.Part) bool { return one.Of == tick.Part })
	switch {
	case !slices.Contains(parts, tick.Part):
		return refuse(http.StatusUnprocessableEntity, "There is no such part at this step",
			fmt.Sprintf("use one of %s; it is %q", strings.Join(parts, ", "), tick.Part))
	case !slices.Contains([]bench.Seen{"", bench.AsShould, bench.Other, bench.Nothing}, bench.Seen(tick.Seen)):
		return refuse(http.StatusUnprocessableEntity, "This is nothing that can be seen",
			fmt.Sprintf("use as, other or nothing, or leave it empty; it is %q", tick.Seen))
	case !store.Plain(tick.Note, 500):
		return refuse(http.StatusUnprocessableEntity, "This note is too long", "write at most 500 letters")
	}
	if ways := slices.IndexFunc(kept.Ways,
		func(one contract.WalkWays) bool { return one.Of == tick.Part }); tick.Does !=
		"" && (ways < 0 || !slices.ContainsFunc(kept.Ways[ways].Says,
		func(one diagnose.Saying) bool { return one.Key == tick.Does })) {
		return refuse(http.StatusUnprocessableEntity, "This is nothing that this part does",
			fmt.Sprintf("use one of its ways, or leave it empty; it is %q", tick.Does))
	}
	if tick.Reads == "" {
		return nil
	}
	if part < 0 || step.Parts[part].Channel == 0 {
		return refuse(http.StatusUnprocessableEntity, "There is no display to read here", "leave the reading empty")
	}
	same, ok := bench.ReadsAs(step.Parts[part].Display, tick.Reads)
	if !ok {
		return refuse(http.StatusUnprocessableEntity, "This is no reading of a display",
			fmt.Sprintf("write the figure that it shows, such as %s; it is %q", step.Parts[part].Display, tick.Reads))
	}
	if !same && tick.Seen == string(bench.AsShould) {
		tick.Seen = string(bench.Other)
	}
	return nil
}

// SignWalk signs a walk, with a hash of the document for which it was worked out.
func (m *models) SignWalk(ctx context.Context,
	r contract.SignWalkRequestObject) (contract.SignWalkResponseObject, error) {
	by := store.Signature{Who: strings.TrimSpace(r.Body.Who), Battery: strings.TrimSpace(r.Body.Battery),
		Note: strings.TrimSpace(r.Body.Note)}
	switch {
	case by.Who == "":
		return nil, refuse(http.StatusUnprocessableEntity, "Nobody has signed", "write who you are")
	case !store.Plain(by.Who, 80) || !store.Plain(by.Battery, 120) || !store.Plain(by.Note, 2000):
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
	before := headOf(w)
	what := map[bool]string{true: "every control to each of its ends", false: "in the fewest steps"}[w.Whole]
	if before.Some > 0 {
		what = "what was out of date, " + words.Count(before.Some, "part", "parts")
	}
	what = fmt.Sprintf("Tried, %s, signed by %s: %d of %s", what, by.Who, before.Done,
		words.Count(before.Of, "step", "steps"))
	if before.Other > 0 {
		what += fmt.Sprintf(", %d otherwise", before.Other)
	}
	if w, err = m.store.SignWalk(ctx, r.Id, r.Walk, by, what); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.SignWalk200JSONResponse(told), err
}

// stepsOf reads the steps of a walk.
func stepsOf(w *store.Walk) (*keptSteps, error) {
	kept := &keptSteps{}
	if err := json.Unmarshal([]byte(w.Steps), kept); err != nil {
		return nil, fmt.Errorf("the steps of a walk cannot be read: %w", err)
	}
	for _, list := range []*[]string{&kept.Taught, &kept.Of} { // one that an older program kept has none
		*list = append([]string{}, *list...)
	}
	kept.Ways = append([]contract.WalkWays{}, kept.Ways...)
	return kept, nil
}

// wentSo is how a step went, as the contract has it.
type wentSo = struct {
	Done  bool `json:"done"`
	Other bool `json:"other"`
}

// went tells of each step of a walk how it went.
func went(w *store.Walk) []wentSo {
	list := make([]wentSo, len(w.Counts))
	seen := make([]int, len(w.Counts))
	for _, tick := range w.Ticks {
		if tick.Step < len(list) {
			seen[tick.Step]++
			list[tick.Step].Other = list[tick.Step].Other || tick.Seen != string(bench.AsShould)
		}
	}
	for n, parts := range w.Counts {
		list[n].Done = seen[n] == parts
	}
	return list
}

// headOf tells of a walk without its steps.
func headOf(w *store.Walk) contract.WalkHead {
	head := contract.WalkHead{Id: w.ID, Revision: w.Revision, Whole: w.Whole, Some: len(w.Devices),
		MadeAt: w.MadeAt, Of: len(w.Counts)}
	for _, one := range went(w) {
		if one.Done {
			head.Done++
		}
		if one.Other {
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
	told = contract.Walk{Head: headOf(w), Now: head.Number, Safe: kept.Safe, Taught: kept.Taught,
		Shown: kept.Shown, Of: kept.Of, Ways: kept.Ways, Steps: kept.Steps, Ticks: []contract.WalkTick{},
		Went: went(w)}
	for _, tick := range w.Ticks {
		told.Ticks = append(told.Ticks, contract.WalkTick{Step: tick.Step, Part: tick.Part,
			Seen: contract.WalkTickSeen(tick.Seen), Does: tick.Does, Reads: tick.Reads, Note: tick.Note,
			Photo: tick.Photo})
	}
	return told, nil
}

// pasts gives the walks that were signed, the newest first, with what was exchanged since each.
func (m *models) pasts(ctx context.Context, model uuid.UUID) (signed []store.Walk, pasts []*bench.Past,
	err error) {
	if signed, err = m.store.Signed(ctx, model); err != nil {
		return nil, nil, err
	}
	events, err := m.store.EventsOf(ctx, model, store.KindExchange)
	if err != nil {
		return nil, nil, err
	}
	for i := range signed {
		past, err := m.past(ctx, &signed[i])
		if err != nil {
			return nil, nil, err
		}
		for k := range events {
			// what was noted in mid-walk counts: nobody knows what was tried by then
			if events[k].Number <= signed[i].Began {
				continue
			}
			id := ""
			if events[k].Part != theTransmitter {
				_, id, _ = strings.Cut(events[k].Part, "/")
			}
			past.Exchanged = append(past.Exchanged, bench.Exchanged{Part: setup.ID(id), Says: events[k].What})
		}
		pasts = append(pasts, past)
	}
	return signed, pasts, nil
}

// past gives a walk with what was seen, and the document for which it was worked out.
func (m *models) past(ctx context.Context, w *store.Walk) (*bench.Past, error) {
	kept, err := stepsOf(w)
	if err != nil {
		return nil, err
	}
	then, err := m.store.At(ctx, w.ModelID, w.Revision)
	if err != nil {
		return nil, err
	}
	past := &bench.Past{Doc: then.Doc, Script: w.Script, Steps: kept.Steps, Saw: map[bench.Spot]bench.Saw{}}
	for _, id := range w.Devices {
		past.Only = append(past.Only, setup.ID(id))
	}
	for _, tick := range w.Ticks {
		spot := bench.Spot{Step: tick.Step, Of: tick.Part}
		past.Saw[spot] = bench.Saw{Seen: bench.Seen(tick.Seen), Does: tick.Does, Reads: tick.Reads}
	}
	return past, nil
}

// GetAgain tells what of the walks that were signed has to be tried again for the newest revision: by what
// was changed.
func (m *models) GetAgain(ctx context.Context,
	r contract.GetAgainRequestObject) (contract.GetAgainResponseObject, error) {
	told, err := m.again(ctx, r.Id)
	return contract.GetAgain200JSONResponse(told), err
}

func (m *models) again(ctx context.Context, model uuid.UUID) (told contract.WalkAgain, err error) {
	now, err := m.store.Head(ctx, model)
	if err != nil {
		return told, err
	}
	signed, pasts, err := m.pasts(ctx, model)
	if err != nil {
		return told, err
	}
	told = contract.WalkAgain{Revision: now.Number, Parts: []string{}, Changes: []bench.Cause{}}
	if len(signed) == 0 {
		return told, nil
	}
	last := headOf(&signed[0])
	told.Last = &last
	walks, err := m.store.Walks(ctx, model)
	if err != nil {
		return told, err
	}
	for i := range walks {
		if one := headOf(&walks[i]); one.Signed != nil && one.Done == one.Of && one.Other == 0 && one.Some == 0 {
			told.Worked = &one
			break
		}
	}
	list, err := bench.Stale(pasts, now.Doc)
	if err != nil {
		return told, err
	}
	s := now.Doc.Setup
	told.Parts, told.Changes = labelsOf(s, bench.DevicesOf(list, s)), bench.Causes(list, pasts, s)
	return told, nil
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
			again, err := m.again(ctx, r.Id)
			if err != nil {
				return nil, err
			}
			if n := len(again.Parts); n > 0 {
				says = words.Count(n, "part", "parts") + " to try again"
			} else if len(again.Changes) > 0 { // a display of which nothing hangs
				says = "tried, not all as it should be"
			}
		}
	}
	return contract.GetTrying200JSONResponse{Says: says}, nil
}

// GetKnown tells what is known of a model from a walk, as a diagnosis takes it.
func (m *models) GetKnown(ctx context.Context,
	r contract.GetKnownRequestObject) (contract.GetKnownResponseObject, error) {
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	past, err := m.past(ctx, w)
	if err != nil {
		return nil, err
	}
	looks, left, err := bench.Known(past)
	return contract.GetKnown200JSONResponse{Looks: looks, Left: left}, err
}

// Bounds of a photograph: bytes, and pixels to a side.
const (
	maxPhoto  = 1 << 20
	maxPixels = 4096
)

// KeepPhoto keeps a photograph of a part at a step.
func (m *models) KeepPhoto(ctx context.Context,
	r contract.KeepPhotoRequestObject) (contract.KeepPhotoResponseObject, error) {
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	kept, err := stepsOf(w)
	if err != nil {
		return nil, err
	}
	if r.Params.Step >= len(kept.Steps) || !slices.Contains(kept.Steps[r.Params.Step].Looked(), r.Params.Part) {
		return nil, refuse(http.StatusUnprocessableEntity, "There is no such part at this step",
			fmt.Sprintf("name a step and one of its parts; it is %d and %q", r.Params.Step, r.Params.Part))
	}
	picture, err := io.ReadAll(r.Body)
	if err != nil {
		return nil, err
	}
	size, kind, err := image.DecodeConfig(bytes.NewReader(picture))
	switch {
	case err != nil || kind != "jpeg" && kind != "png":
		return nil, refuse(http.StatusUnprocessableEntity, "This is no photograph", "send one as JPEG or PNG")
	case size.Width > maxPixels || size.Height > maxPixels:
		return nil, refuse(http.StatusUnprocessableEntity, "This photograph is too large",
			fmt.Sprintf("make it smaller than %d pixels to a side; it is %d by %d", maxPixels, size.Width,
				size.Height))
	}
	err = m.store.KeepPhoto(ctx, r.Id, store.Photo{WalkID: r.Walk, Step: r.Params.Step, Part: r.Params.Part,
		Kind: "image/" + kind, Picture: picture})
	if err != nil {
		return nil, err
	}
	if w, err = m.store.Walk(ctx, r.Id, r.Walk); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.KeepPhoto200JSONResponse(told), err
}

// photo is a photograph as it was sent.
type photo store.Photo

// VisitGetPhotoResponse writes it.
func (p photo) VisitGetPhotoResponse(w http.ResponseWriter) error {
	w.Header().Set("Content-Type", p.Kind)
	w.Header().Set("Cache-Control", "no-cache")
	_, err := w.Write(p.Picture)
	return err
}

// GetPhoto gives the photograph of a part at a step.
func (m *models) GetPhoto(ctx context.Context,
	r contract.GetPhotoRequestObject) (contract.GetPhotoResponseObject, error) {
	one, err := m.store.Photo(ctx, r.Id, r.Walk, r.Params.Step, r.Params.Part)
	if err != nil {
		return nil, err
	}
	return photo(*one), nil
}

// walkSheet is a walk as it is carried.
func walkSheet(name string, w *store.Walk, kept *keptSteps) *appsheet.WalkSheet {
	sh := &appsheet.WalkSheet{Name: name, Walk: w.ID.String(), Revision: w.Revision, Safe: kept.Safe,
		Taught: kept.Taught, Steps: kept.Steps}
	if len(kept.Of) > 0 {
		sh.About = "of " + words.And(kept.Of) + " alone"
	}
	if w.SignedAt != nil {
		sh.Signed = fmt.Sprintf("Signed by %s, %s, for revision %d.", w.Who, w.SignedAt.Format("2 January 2006"),
			w.Revision)
	}
	return sh
}

// walkFile writes a walk as a file of a kind.
func (m *models) walkFile(ctx context.Context, model, walk uuid.UUID, ending string,
	write func(*appsheet.WalkSheet, io.Writer) error) (*bytes.Buffer, *string, error) {
	w, err := m.store.Walk(ctx, model, walk)
	if err != nil {
		return nil, nil, err
	}
	kept, err := stepsOf(w)
	if err != nil {
		return nil, nil, err
	}
	head, err := m.store.Head(ctx, model)
	if err != nil {
		return nil, nil, err
	}
	var b bytes.Buffer
	if err := write(walkSheet(head.Doc.Setup.Name, w, kept), &b); err != nil {
		return nil, nil, err
	}
	disposition := fmt.Sprintf(`attachment; filename="%s-walk-r%d.%s"`, fileName(head.Doc.Setup.Name),
		w.Revision, ending)
	return &b, &disposition, nil
}

// GetWalkPDF gives the steps of a walk on paper.
func (m *models) GetWalkPDF(ctx context.Context,
	r contract.GetWalkPDFRequestObject) (contract.GetWalkPDFResponseObject, error) {
	paper := paperOf(r.Params.Paper)
	b, disposition, err := m.walkFile(ctx, r.Id, r.Walk, "pdf",
		func(sh *appsheet.WalkSheet, w io.Writer) error { return sh.PDF(w, paper) })
	if err != nil {
		return nil, err
	}
	return contract.GetWalkPDF200ApplicationpdfResponse{Body: b, ContentLength: int64(b.Len()),
		Headers: contract.GetWalkPDF200ResponseHeaders{ContentDisposition: disposition}}, nil
}

// GetWalkCarried gives the steps of a walk as one file that keeps what is ticked.
func (m *models) GetWalkCarried(ctx context.Context,
	r contract.GetWalkCarriedRequestObject) (contract.GetWalkCarriedResponseObject, error) {
	b, disposition, err := m.walkFile(ctx, r.Id, r.Walk, "html",
		func(sh *appsheet.WalkSheet, w io.Writer) error { return sh.Carry(w) })
	if err != nil {
		return nil, err
	}
	return contract.GetWalkCarried200TexthtmlResponse{Body: b, ContentLength: int64(b.Len()),
		Headers: contract.GetWalkCarried200ResponseHeaders{ContentDisposition: disposition}}, nil
}

// BringWalkTicks keeps what was ticked in the file of a walk: what was not ticked there stays as it is.
func (m *models) BringWalkTicks(ctx context.Context,
	r contract.BringWalkTicksRequestObject) (contract.BringWalkTicksResponseObject, error) {
	w, err := m.store.Walk(ctx, r.Id, r.Walk)
	if err != nil {
		return nil, err
	}
	kept, err := stepsOf(w)
	if err != nil {
		return nil, err
	}
	things := appsheet.WalkThings(kept.Steps)
	ticks, err := appsheet.ReadWalk(strings.TrimSpace(*r.Body), r.Walk.String(), things)
	if err != nil {
		return nil, toldTicks(err)
	}
	before := map[bench.Spot]store.Tick{}
	for _, tick := range w.Ticks {
		before[bench.Spot{Step: tick.Step, Of: tick.Part}] = tick
	}
	var list []store.Tick
	for i := range things {
		text, of, _ := strings.Cut(things[i].Key, "/")
		tick := store.Tick{Part: of}
		if tick.Step, err = strconv.Atoi(text); err != nil {
			return nil, err
		}
		switch {
		case ticks.Ticked[appsheet.Otherwise][i]:
			tick.Seen = string(bench.Other)
		case ticks.Ticked[appsheet.AsShould][i]:
			tick.Seen = string(bench.AsShould)
		default:
			continue
		}
		was := before[bench.Spot{Step: tick.Step, Of: of}]
		if was.Seen == tick.Seen {
			continue // with all that was said of it here
		}
		tick.Note = was.Note
		list = append(list, tick)
	}
	if w, err = m.store.KeepTicks(ctx, r.Id, r.Walk, list); err != nil {
		return nil, err
	}
	told, err := m.tell(ctx, w)
	return contract.BringWalkTicks200JSONResponse(told), err
}
