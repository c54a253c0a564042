package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/google/uuid"

	"axtren/app/contract"
	appsheet "axtren/app/sheet"
	"axtren/app/store"
	"axtren/core/bench"
	"axtren/core/edit"
	"axtren/core/record"
	"axtren/core/setup"
	"axtren/core/words"
)

// fewestAtOnce is how much of a log one answer has, unless it is asked for otherwise.
const fewestAtOnce = 60

// GetLog gives what happened to a model, the newest first.
func (m *models) GetLog(ctx context.Context,
	r contract.GetLogRequestObject) (contract.GetLogResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	wish := store.LogWish{Limit: fewestAtOnce}
	if r.Params.Limit != nil {
		wish.Limit = *r.Params.Limit
	}
	if r.Params.Only != nil {
		wish.Group = string(*r.Params.Only)
	}
	if r.Params.Find != nil {
		wish.Find = strings.TrimSpace(*r.Params.Find)
	}
	if r.Params.Before != nil {
		if _, err := fmt.Sscanf(*r.Params.Before, "%d.%d", &wish.Before.Revision, &wish.Before.Event); err != nil {
			return nil, refuse(http.StatusBadRequest, "There is no such place in the log",
				fmt.Sprintf("send what more said; it is %q", *r.Params.Before))
		}
	}
	limit := wish.Limit
	wish.Limit++ // one more tells whether there are any
	list, err := m.store.Log(ctx, r.Id, wish)
	if err != nil {
		return nil, err
	}
	told := contract.GetLog200JSONResponse{Entries: []contract.LogEntry{}, Parts: partsOf(head.Doc.Setup)}
	if len(list) > limit {
		list = list[:limit]
		at := list[limit-1].At()
		told.More = fmt.Sprintf("%d.%d", at.Revision, at.Event)
	}
	craft := head.Doc.Setup.Craft.Kind
	for i := range list {
		one := entryOf(&list[i], craft)
		one.Undo = list[i].Revision != nil && head.CanUndo(one.Revision)
		told.Entries = append(told.Entries, one)
	}
	told.Totals, told.Values, err = m.summed(ctx, r.Id, craft)
	return told, err
}

// partsOf lists what of a model can be exchanged.
func partsOf(s *setup.Setup) []contract.LogPart {
	list := []contract.LogPart{}
	add := func(item setup.Item) {
		list = append(list, contract.LogPart{Part: s.PartName(item), Label: words.Capital(s.Label(item))})
	}
	for i := range s.Devices {
		add(setup.IsDevice.At(i))
	}
	for i := range s.Receivers {
		add(setup.IsReceiver.At(i))
	}
	return append(list, contract.LogPart{Part: theTransmitter, Label: "The transmitter, or its memory copied"})
}

// summed says how long a model was run, and what was set with programs of their own.
func (m *models) summed(ctx context.Context, id uuid.UUID, craft string) (totals, values []string,
	err error) {
	runs, err := m.store.Runs(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	list := make([]record.Run, len(runs))
	for i, run := range runs {
		list[i] = record.Run(run)
	}
	set, err := m.store.EventsOf(ctx, id, store.KindValue)
	return record.Totals(list, craft), record.Values(happenedAll(set)), err
}

func happenedAll(list []store.Event) []record.Happened {
	all := make([]record.Happened, len(list))
	for i := range list {
		all[i] = happened(&list[i])
	}
	return all
}

func happened(e *store.Event) record.Happened {
	return record.Happened{Kind: e.Kind, Label: e.Label, What: e.What, Was: e.Was, Becomes: e.Becomes,
		Says: e.Says, Minutes: e.Minutes, Battery: e.Battery}
}

// entryOf tells of something that happened.
func entryOf(h *store.Happening, craft string) contract.LogEntry {
	if e := h.Event; e != nil {
		own := happened(e)
		return contract.LogEntry{Key: e.ID.String(), At: e.MadeAt, Revision: e.Revision,
			Kind: e.Kind, Head: own.Head(craft), More: own.More(),
			Noted: e.Kind != store.KindWalk && e.Kind != store.KindSheet}
	}
	rev := h.Revision
	one := contract.LogEntry{Key: "r" + strconv.Itoa(rev.Number), At: rev.MadeAt, Revision: rev.Number,
		Kind: rev.Kind, More: []string{}}
	lines := strings.Split(rev.Words, "\n")
	one.Head = words.Capital(lines[0])
	switch rev.Kind {
	case store.KindUndo:
		one.Head = "Undone: " + lines[0]
	case store.KindRedo:
		one.Head = "Done again: " + lines[0]
	}
	one.More = append(one.More, lines[1:]...)
	return one
}

// allOfLog is how many entries are read at once where all are.
const allOfLog = 500

// wholeLog gives all that happened to a model, the oldest first.
func (m *models) wholeLog(ctx context.Context, id uuid.UUID) ([]store.Happening, error) {
	var all []store.Happening
	wish := store.LogWish{Limit: allOfLog}
	for {
		some, err := m.store.Log(ctx, id, wish)
		if err != nil {
			return nil, err
		}
		all = append(all, some...)
		if len(some) < wish.Limit {
			slices.Reverse(all)
			return all, nil
		}
		wish.Before = some[len(some)-1].At()
	}
}

// rowsOf tells of all that happened as the rows of a table or a book.
func rowsOf(all []store.Happening, craft string) []appsheet.LogRow {
	rows := make([]appsheet.LogRow, len(all))
	for i := range all {
		e := entryOf(&all[i], craft)
		rows[i] = appsheet.LogRow{At: e.At, Revision: e.Revision, Kind: e.Kind, Head: e.Head, More: e.More}
		if own := all[i].Event; own != nil {
			rows[i].Part, rows[i].Was, rows[i].Becomes = own.Label, own.Was, own.Becomes
			rows[i].Minutes, rows[i].Battery = own.Minutes, own.Battery
		}
	}
	return rows
}

// GetLogCSV gives all that happened as a table.
func (m *models) GetLogCSV(ctx context.Context,
	r contract.GetLogCSVRequestObject) (contract.GetLogCSVResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	all, err := m.wholeLog(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := appsheet.LogCSV(&b, rowsOf(all, head.Doc.Setup.Craft.Kind)); err != nil {
		return nil, err
	}
	disposition := fmt.Sprintf(`attachment; filename="%s-log.csv"`, fileName(head.Doc.Setup.Name))
	return contract.GetLogCSV200TextcsvResponse{Body: &b, ContentLength: int64(b.Len()),
		Headers: contract.GetLogCSV200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// GetBook gives everything of a model in one printed book.
func (m *models) GetBook(ctx context.Context,
	r contract.GetBookRequestObject) (contract.GetBookResponseObject, error) {
	sh, head, err := m.sheetOf(ctx, r.Id, 0, nil, nil)
	if err != nil {
		return nil, err
	}
	craft := head.Doc.Setup.Craft.Kind
	book := appsheet.Book{Sheet: sh, Revision: head.Number, Text: string(head.Doc.Tree.YAML())}
	if book.Fitted, err = appsheet.FittedOf(head.Doc); err != nil {
		return nil, err
	}
	if book.Totals, book.Values, err = m.summed(ctx, r.Id, craft); err != nil {
		return nil, err
	}
	all, err := m.wholeLog(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	book.Log = rowsOf(all, craft)
	signed, err := m.store.Signed(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	if len(signed) > 0 {
		kept, err := stepsOf(&signed[0])
		if err != nil {
			return nil, err
		}
		book.Walk = walkSheet(head.Doc.Setup.Name, &signed[0], kept)
	}
	var b bytes.Buffer
	if err := book.PDF(&b); err != nil {
		return nil, err
	}
	disposition := fmt.Sprintf(`attachment; filename="%s-book-r%d.pdf"`, fileName(head.Doc.Setup.Name),
		head.Number)
	return contract.GetBook200ApplicationpdfResponse{Body: &b, ContentLength: int64(b.Len()),
		Headers: contract.GetBook200ResponseHeaders{ContentDisposition: &disposition}}, nil
}

// theTransmitter names it, or its memory, where a part is asked for.
const theTransmitter = "transmitter"

// partIn finds a device or a receiver of a setup, as devices/port; none is the transmitter.
func partIn(s *setup.Setup, name string) (setup.Item, error) {
	if name == theTransmitter {
		return setup.Item{}, nil
	}
	_, id, _ := strings.Cut(name, "/")
	if item := s.Item(setup.ID(id)); (item.Kind == setup.IsDevice || item.Kind == setup.IsReceiver) &&
		s.PartName(item) == name {
		return item, nil
	}
	return setup.Item{}, refuse(http.StatusUnprocessableEntity, "There is no such part",
		fmt.Sprintf("name a device or a receiver of this model, as devices/port, or transmitter; it is %q", name))
}

// NoteEvent notes something that happened. That a part was exchanged is written into the document too: the
// day on which it was built in, or bound.
func (m *models) NoteEvent(ctx context.Context,
	r contract.NoteEventRequestObject) (contract.NoteEventResponseObject, error) {
	head, err := m.store.Head(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	e, err := eventOf(head.Doc.Setup, r.Body)
	if err != nil {
		return nil, err
	}
	e.ModelID = r.Id
	if e.Kind == store.KindExchange { // the document is changed first: not where it cannot be noted then
		if err := m.store.HasRoom(ctx, r.Id); err != nil {
			return nil, err
		}
		if err := m.exchanged(ctx, head, e.Part, r.Body); err != nil {
			return nil, err
		}
	}
	kept, err := m.store.Happened(ctx, *e)
	if err != nil {
		return nil, err
	}
	return contract.NoteEvent201JSONResponse(entryOf(&store.Happening{Event: kept},
		head.Doc.Setup.Craft.Kind)), nil
}

// eventOf reads what is to be noted.
func eventOf(s *setup.Setup, of *contract.Noting) (*store.Event, error) {
	wrong := func(title, remedy string) (*store.Event, error) {
		return nil, refuse(http.StatusUnprocessableEntity, title, remedy)
	}
	trim := strings.TrimSpace
	e := &store.Event{ID: of.Id, Kind: of.Kind, Part: of.Part, What: trim(of.What), Was: trim(of.Was),
		Becomes: trim(of.Becomes), Says: trim(of.Says), Minutes: of.Minutes, Battery: trim(of.Battery)}
	if err := e.Fits(); err != nil {
		return wrong("This cannot be noted", err.Error())
	}
	if e.Part != "" {
		item, err := partIn(s, e.Part)
		if err != nil {
			return nil, err
		}
		e.Label = "Transmitter"
		if item.Kind != 0 {
			e.Label = words.Capital(s.Label(item))
		}
	}
	switch e.Kind {
	case store.KindNote:
		if e.Says == "" {
			return wrong("There is nothing to note", "write what is to be remembered")
		}
	case store.KindExchange:
		if e.Part == "" {
			return wrong("It is not said what was exchanged", "name a device, a receiver, or the transmitter")
		}
		item, _ := partIn(s, e.Part)
		e.What = bench.ExchangedWords(s, item)
	case store.KindRun:
		if e.Minutes < 1 || e.Minutes > 100_000 {
			return wrong("It is not said how long it was run", fmt.Sprintf("write the minutes, such as 41; it is %d",
				e.Minutes))
		}
	case store.KindFault:
		if e.What == "" {
			return wrong("It is not said what was wrong", "write what was seen")
		}
	case store.KindValue:
		if e.Part == "" || e.What == "" || e.Becomes == "" {
			return wrong("It is not said what was set", "name the part, what it is called there, and what it was "+
				"set to")
		}
	default:
		return wrong("This is nothing that is noted", fmt.Sprintf("use note, exchange, run, fault or value; "+
			"it is %q", e.Kind))
	}
	return e, nil
}

// exchanged writes into the document when a part was built in, or bound.
func (m *models) exchanged(ctx context.Context, head *store.Head, part string, of *contract.Noting) error {
	s := head.Doc.Setup
	item, err := partIn(s, part)
	if err != nil || item.Kind == 0 {
		return err
	}
	on := strings.TrimSpace(of.On)
	if on == "" || !store.Plain(on, 40) {
		return refuse(http.StatusUnprocessableEntity, "It is not said when",
			"write the day, such as 3 Nov, 14:02, "+
				"in at most 40 letters")
	}
	field, id := "fitted", s.Key(item).ID
	if item.Kind == setup.IsReceiver {
		field = "bound"
	}
	quote := func(text string) *json.RawMessage {
		quoted, _ := json.Marshal(text)
		return (*json.RawMessage)(&quoted)
	}
	list, _, _ := strings.Cut(part, "/")
	at := fmt.Sprintf("/%s/%d", list, item.Index)
	made, err := m.store.Change(ctx, head.ModelID, head.Number, store.Origin{Page: "log", Edit: of.Id.String()},
		func(now *setup.Document) (*edit.Result, error) {
			return edit.ApplyOps(now, []edit.Op{{Op: "test", Path: at + "/id", Value: quote(string(id))},
				{Op: "add", Path: at + "/" + field, Value: quote(on)}})
		})
	if err != nil {
		return err
	}
	m.hub.Changed(made)
	return nil
}

// DropEvent takes something back that somebody noted.
func (m *models) DropEvent(ctx context.Context,
	r contract.DropEventRequestObject) (contract.DropEventResponseObject, error) {
	return contract.DropEvent204Response{}, m.store.DropEvent(ctx, r.Id, r.Event)
}

// GetRevisionAt gives the newest revision that was made by a moment.
func (m *models) GetRevisionAt(ctx context.Context,
	r contract.GetRevisionAtRequestObject) (contract.GetRevisionAtResponseObject, error) {
	if _, err := m.store.Head(ctx, r.Id); err != nil {
		return nil, err
	}
	number, err := m.store.RevisionAt(ctx, r.Id, r.Params.At)
	return contract.GetRevisionAt200JSONResponse{Number: number}, err
}

// GetExchange tells what has to be set and tried again where a part is another one.
func (m *models) GetExchange(ctx context.Context,
	r contract.GetExchangeRequestObject) (contract.GetExchangeResponseObject, error) {
	head, p, err := m.playable(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	s := head.Doc.Setup
	item, err := partIn(s, r.Params.Part)
	if err != nil {
		return nil, err
	}
	told := contract.GetExchange200JSONResponse{Label: "The transmitter, or its memory",
		Sets: bench.RedoOf(p, item), Values: []string{}, Tries: []string{}}
	var id setup.ID
	if item.Kind != 0 {
		told.Label, id = words.Capital(s.Label(item)), s.Key(item).ID
	}
	set, err := m.store.EventsOf(ctx, r.Id, store.KindValue)
	if err != nil {
		return nil, err
	}
	set = slices.DeleteFunc(set, func(e store.Event) bool { return e.Part != r.Params.Part })
	told.Values = record.Values(happenedAll(set))
	_, pasts, err := m.pasts(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	for _, past := range pasts {
		past.Exchanged = append(past.Exchanged, bench.Exchanged{Part: id, Says: "It was exchanged"})
	}
	list, err := bench.Stale(pasts, head.Doc)
	if err != nil {
		return nil, err
	}
	list = slices.DeleteFunc(list, func(one bench.Again) bool {
		return !slices.Contains(one.Why,
			"It was exchanged")
	})
	for _, cause := range bench.Causes(list, pasts, s) {
		if cause.Says == "It was exchanged." {
			told.Tries = append(told.Tries, fmt.Sprintf("%s, at %s.", words.And(cause.Parts),
				words.Count(cause.Steps, "step", "steps")))
		}
	}
	return told, nil
}
