package live

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"math"
	"slices"
	"sync/atomic"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/google/uuid"

	"axtren/app/store"
	"axtren/app/web/contract"
	"axtren/core/edit"
	"axtren/core/lines"
	"axtren/core/setup"
	"axtren/core/signal"
)

// helloWithin is how long a page may take to say hello, writeWithin how long a
// message may take to be written; after that the connection is given up.
const (
	helloWithin = 10 * time.Second
	writeWithin = 10 * time.Second
)

// StatusGone closes the socket of a model that was removed.
const StatusGone websocket.StatusCode = 4004

// bench is one engine, one pair of hands and one connection. All but the box is
// touched by run alone.
type bench struct {
	conn  *websocket.Conn
	box   *inbox
	model uuid.UUID
	from  Source
	page  string // the page's name for its edits

	head    *store.Head     // the newest revision
	kept    *signal.Program // of head
	program *signal.Program // that runs: kept, or a trial on top of it
	doc     *setup.Document // of program
	trying  *contract.ToBench
	live    *signal.State  // what the hands move
	state   *signal.State  // what is shown: live, or what plays
	scene   scene          // the picture beside live
	hands   map[string]any // where the hands are, by control; outlives an edit
	now     signal.Hands

	view       *lines.View
	watch      string
	values     []float64 // as last sent
	spare      []float64 // room for the next ones
	at         []int     // room for what changed
	v          []float64
	n          int64 // newest movement stepped
	sentN      int64
	waits      []int // as last sent
	viewSent   bool
	whySent    bool
	beat       bool // the page asked whether anybody is there
	refused    *contract.FromBench
	record     *recording
	save       *contract.FromBench
	plot       plotted
	ill        complained
	mixed      mixed
	drilled    *contract.FromBench // not sent yet
	drilling   atomic.Bool         // one runs beside the bench
	drillHands signal.Hands        // of the last one
	player     *player             // what plays instead of the hands; nil: the hands
	played     bool                // the player was told
}

// listen reads the page's messages until it goes.
func (b *bench) listen(ctx context.Context) {
	for {
		var msg contract.ToBench
		err := wsjson.Read(ctx, b.conn, &msg)
		var syntax *json.SyntaxError
		var shape *json.UnmarshalTypeError
		switch {
		case errors.As(err, &syntax), errors.As(err, &shape):
			b.conn.Close(websocket.StatusUnsupportedData, "this is no message of the contract")
			return
		case err != nil:
			return
		}
		if err := checkHands(msg.Set); err != nil {
			b.conn.Close(websocket.StatusUnsupportedData, err.Error())
			return
		}
		if msg.T == contract.ToBenchTPlay {
			b.wish(ctx, &msg)
			continue
		}
		b.box.putMessage(&msg)
	}
}

// maxHands bounds what one message may move, and what waits for a frame: a setup has
// at most 64 controls, and receivers beside them. maxWord bounds a position's name, in bytes.
const (
	maxHands = 400
	maxWord  = 128
)

// checkHands refuses what is no place of a hand: anything but numbers and the names
// of positions.
func checkHands(set *map[string]any) error {
	if set == nil {
		return nil
	}
	if len(*set) > maxHands {
		return fmt.Errorf("%d hands in one message; at most %d", len(*set), maxHands)
	}
	for id, value := range *set {
		text, ok := handText(value)
		if !ok || len(text) > maxWord || len(id) > maxWord {
			return errors.New("a hand is neither a number nor the name of a position")
		}
	}
	return nil
}

// run steps the engine at the model's frame until ctx ends or the page no
// longer reads.
func (b *bench) run(ctx context.Context, head *store.Head) {
	first, ok := b.awaitHello(ctx, head)
	if !ok {
		return
	}
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	out := make(chan []byte, 1)
	go b.write(ctx, cancel, out)
	frame := b.frameTime()
	ticker := time.NewTicker(frame)
	defer ticker.Stop()
	for m := first; ; m = b.box.take() {
		if m.gone {
			b.conn.Close(StatusGone, "the model was removed")
			return
		}
		b.frame(m)
		b.send(out)
		if now := b.frameTime(); now != frame {
			frame = now
			ticker.Reset(frame)
		}
		select {
		case <-ticker.C:
		case <-ctx.Done():
			return
		}
	}
}

func (b *bench) frameTime() time.Duration {
	return time.Duration(b.program.Setup().Transmitter.FrameMS) * time.Millisecond
}

// awaitHello waits for the page's hello and powers on with its hands. What came with
// the hello is the mail of the first frame.
func (b *bench) awaitHello(ctx context.Context, head *store.Head) (first mail, ok bool) {
	timeout := time.NewTimer(helloWithin)
	defer timeout.Stop()
	for !b.box.greeted() {
		select {
		case <-b.box.came:
		case <-timeout.C:
			b.conn.Close(websocket.StatusPolicyViolation, "no hello")
			return first, false
		case <-ctx.Done():
			return first, false
		}
	}
	first = b.box.take()
	if first.head != nil {
		head = first.head
	}
	program, err := edit.Playable(head.Doc)
	if err != nil {
		slog.Error("a stored model cannot be played", "model", head.ModelID, "error", err)
		b.conn.Close(websocket.StatusInternalError, "the model cannot be played")
		return first, false
	}
	b.head, b.kept, b.n = head, program, first.n
	b.hands = map[string]any{}
	if first.page != nil {
		b.page = *first.page
	}
	for id, value := range first.set {
		if _, ok := placed(program, id, value); ok {
			b.hands[id] = value
		}
	}
	first.set, first.head = nil, nil
	b.play(head.Doc, program)
	b.record = newRecording(program, 0, b.now, true)
	return first, true
}

// placed gives where a hand puts something, as the program counts it; ok is false
// where the program has no such thing, or it cannot go there.
func placed(p *signal.Program, id string, value any) (m movement, ok bool) {
	hand, ok := p.Hand(id)
	if !ok {
		return movement{}, false
	}
	text, ok := handText(value)
	if !ok {
		return movement{}, false
	}
	v, err := p.HandValue(id, text)
	return movement{value: v, hand: uint16(hand)}, err == nil
}

// move puts the hands where they went. What the model does not have is refused: it
// is neither placed nor recorded.
func (b *bench) move(set map[string]any) {
	var moved []movement
	for _, id := range slices.Sorted(maps.Keys(set)) {
		if m, ok := placed(b.program, id, set[id]); ok {
			b.hands[id] = set[id]
			b.now[m.hand] = m.value
			moved = append(moved, m)
		}
	}
	b.record.add(b.live.Frame, moved)
}

// play puts a program on the bench: the first with a power-on, every later one
// with the state carried over.
func (b *bench) play(doc *setup.Document, p *signal.Program) {
	old, was := b.program, b.live
	b.program, b.doc = p, doc
	b.scene = b.scene.carry(p)
	b.placeHands()
	if old == nil {
		b.live = p.PowerOn()
	} else {
		b.live = p.Carry(old, was, b.now)
	}
	b.state = b.live
	if b.player != nil {
		b.replay()
	}
	b.view = lines.Build(doc, p)
	b.values = nil
	if b.record != nil {
		b.record = newRecording(p, b.live.Frame, b.now, false)
	}
	b.viewSent, b.whySent = false, false
}

// placeHands turns the hands into numbers for the running program. What the
// page never moved, or what an edit took away, is at rest, and on.
func (b *bench) placeHands() {
	b.now = b.program.Rest()
	for id, hand := range b.hands {
		if m, ok := placed(b.program, id, hand); ok {
			b.now[m.hand] = m.value
		}
	}
}

// frame takes what arrived and steps once.
func (b *bench) frame(m mail) {
	if m.set != nil {
		b.endPlay() // a hand on the deck takes over
		b.move(m.set)
	}
	b.n = m.n
	if m.head != nil && m.head.Number > b.head.Number {
		b.adopt(m.head)
	}
	if m.try != nil {
		b.try(m.try)
	}
	if m.watch != nil {
		b.watch, b.whySent = *m.watch, false
	}
	if m.plot != nil {
		b.plot = plotted{wish: m.plot}
	}
	if m.ill != nil {
		b.ill = complained{wish: m.ill}
	}
	if m.play != nil {
		b.obey(m.play)
	}
	b.beat = b.beat || m.beat
	if m.stage != nil {
		b.onStage(m.stage)
	}
	if m.drill != nil {
		b.drilled = m.drill
	}
	if m.mix != nil {
		b.mixed.wish, b.mixed.program, b.mixed.wait = m.mix, nil, 0
		if m.mix.First == nil {
			b.mixed.wish = nil
		}
	}
	if m.mixed != nil {
		b.mixed.done, b.mixed.pair, b.mixed.hands = m.mixed.told, m.mixed.pair, m.mixed.hands
	}
	if b.player == nil {
		b.program.Step(b.live, b.now)
		b.scene.step(b.live)
	} else {
		b.player.frame()
	}
	if m.save != nil {
		saved, err := b.saved(*m.save)
		if err != nil {
			slog.Error("a recording was not saved", "error", err)
			return
		}
		b.save = saved
	}
}

// adopt takes a new revision. A trial that runs goes on on top of it, as long as
// it fits: else only the page that makes it ends it.
func (b *bench) adopt(head *store.Head) {
	program, err := edit.Playable(head.Doc)
	if err != nil {
		slog.Error("a stored model cannot be played", "model", head.ModelID, "error", err)
		return
	}
	b.head, b.kept = head, program
	if b.trying != nil && b.try(b.trying) {
		return
	}
	b.trying = nil // what it was made for is gone
	b.play(head.Doc, program)
}

// try plays a patch on top of the newest revision without keeping it; a drop
// goes back to the revision. It tells whether the trial plays.
func (b *bench) try(msg *contract.ToBench) bool {
	if msg.T == contract.ToBenchTDrop {
		b.trying = nil
		b.play(b.head.Doc, b.kept)
		return false
	}
	if msg.Patch == nil || msg.Id == nil {
		return false
	}
	r, err := edit.Apply(b.head.Doc, *msg.Patch)
	if err != nil {
		b.refuse(*msg.Id, err)
		return false
	}
	b.trying = msg
	b.play(r.Doc, r.Program)
	return true
}

func (b *bench) refuse(id int64, err error) {
	p := contract.Problem{Type: "about:blank", Title: "The change does not fit", Status: 422}
	var faults setup.Problems
	if errors.As(err, &faults) {
		list := []contract.Fault(faults)
		p.Errors = &list
	}
	b.refused = &contract.FromBench{T: contract.FromBenchTRefused, Id: &id, Problem: &p}
}

// send hands over what the page does not know yet, one message after the other
// as far as the writer takes them. What is left comes with the next frame: all
// of it is made from the state, so nothing piles up and nothing is lost.
func (b *bench) send(out chan<- []byte) {
	for {
		msg, sent := b.next()
		if msg == nil {
			return
		}
		text, err := encode(msg)
		if err != nil {
			slog.Error("a message cannot be written", "error", err)
			return
		}
		select {
		case out <- text:
			sent()
		default:
			return
		}
	}
}

// next makes the next message, nil for none; sent notes that it went out.
func (b *bench) next() (msg *contract.FromBench, sent func()) {
	switch {
	case !b.viewSent:
		values := b.read(nil)
		model, frameMS, trying := ModelOf(b.head, b.kept, b.page), b.program.Setup().Transmitter.FrameMS, int64(0)
		if b.trying != nil {
			trying = *b.trying.Id
		}
		n, waits, stageAt := b.n, b.waiting(), len(b.view.Slots)
		return &contract.FromBench{T: contract.FromBenchTBench, Model: &model, FrameMs: &frameMS, Trying: &trying, View: b.view, Values: &values, N: &n, Waits: &waits,
				Stage: b.scene.picture, StageAt: &stageAt},
			func() { b.viewSent, b.values, b.sentN, b.waits = true, values, n, waits }
	case b.beat:
		return &contract.FromBench{T: contract.FromBenchTBeat}, func() { b.beat = false }
	case b.refused != nil:
		return b.refused, func() { b.refused = nil }
	case b.save != nil:
		return b.save, func() { b.save = nil }
	case b.drilled != nil:
		return b.drilled, func() { b.drilled = nil }
	case !b.played:
		return b.playing(true), func() { b.played = true }
	}
	if msg, sent := b.changes(); msg != nil {
		return msg, sent
	}
	if msg, sent := b.plots(); msg != nil {
		return msg, sent
	}
	if msg, sent := b.troubles(); msg != nil {
		return msg, sent
	}
	if msg, sent := b.words(); msg != nil {
		return msg, sent
	}
	if msg, sent := b.mixes(); msg != nil {
		return msg, sent
	}
	if b.watch != "" && !b.whySent {
		reason, ok := lines.Explain(b.program, b.state, b.watch)
		joint := b.watch
		msg := &contract.FromBench{T: contract.FromBenchTWhy, Joint: &joint}
		if ok {
			msg.Reason = &reason
		}
		return msg, func() { b.whySent = true }
	}
	return nil, nil
}

// read gives every value of the view, rounded to what a page can show, and the
// numbers of the picture after them, in the room of an old list if there is any.
func (b *bench) read(room []float64) []float64 {
	values := room[:0]
	for _, slot := range b.view.Slots {
		values = append(values, math.Round(b.state.At(slot)*1e4)/1e4)
	}
	return b.shown().numbers(values)
}

// changes makes a frame message of what differs from what was sent.
func (b *bench) changes() (*contract.FromBench, func()) {
	b.spare = b.read(b.spare)
	values, at, v := b.spare, b.at[:0], b.v[:0]
	for i := range values {
		if values[i] != b.values[i] {
			at, v = append(at, i), append(v, values[i])
		}
	}
	b.at, b.v = at, v
	waits := b.waiting()
	if len(at) == 0 && b.n == b.sentN && slices.Equal(waits, b.waits) && (b.player == nil || !b.player.stepped) {
		return nil, nil
	}
	n, k := b.n, b.state.Frame-1
	msg := &contract.FromBench{T: contract.FromBenchTFrame, N: &n, K: &k, At: &at, V: &v, Waits: &waits}
	if b.player != nil {
		msg.Play = b.playing(false).Play
	}
	return msg, func() {
		b.values, b.spare = values, b.values
		b.sentN, b.waits, b.whySent = n, waits, b.whySent && len(at) == 0
		if b.player != nil {
			b.player.stepped = false
		}
	}
}

// waiting lists what the set waits for, never nil.
func (b *bench) waiting() []int { return append([]int{}, b.program.WaitsFor(b.state)...) }

// write writes messages until ctx ends; a page that does not read ends it.
func (b *bench) write(ctx context.Context, cancel func(), out <-chan []byte) {
	defer cancel()
	for {
		select {
		case text := <-out:
			writing, done := context.WithTimeout(ctx, writeWithin)
			err := b.conn.Write(writing, websocket.MessageText, text)
			done()
			if err != nil {
				return
			}
		case <-ctx.Done():
			return
		}
	}
}
