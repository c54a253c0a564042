package live

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"reflect"
	"slices"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/edit"
	"axtren/core/session"
	"axtren/core/setup"
)

// helloWithin is how long a page may take to say hello, writeWithin how long a
// message may take to be written; after that the connection is given up.
const (
	helloWithin = 10 * time.Second
	writeWithin = 10 * time.Second
)

// StatusGone closes the socket of a model that was removed.
const StatusGone websocket.StatusCode = 4004

// bench is one session and one connection. All but the box is touched by run alone.
type bench struct {
	conn  *websocket.Conn
	box   *inbox
	model uuid.UUID
	from  Source
	page  string // the page's name for its edits

	proofs *proofs // of the server

	session  *session.Session
	head     *store.Head // the newest revision
	trying   int64       // the page's number of the trial that runs; 0: none
	features []owned

	changes session.Changes
	changed int64 // counts what the page was told that changed, from 1
	n       int64 // newest movement stepped
	sentN   int64
	waits   []int          // as last sent
	shown   *contract.Told // all that is on the bench, as it was told last
	beat    bool           // the page asked whether anybody is there
	kept    bool           // something else is kept of the model than was
	refused *contract.Told
	saved   *contract.Told
	played  *session.Player // as last told whole
	steered bool            // it is to be told whole again
	steps   int64           // of the player, as last told
}

// listen reads the page's messages until it goes.
func (b *bench) listen(ctx context.Context) {
	for {
		var msg contract.Asked
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
		switch {
		case !msg.T.Known():
		case msg.T == contract.ToPlay:
			b.wish(ctx, &msg)
		default:
			b.box.putMessage(&msg)
		}
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
	defer b.close()
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
	return time.Duration(b.session.Runs().Program.Setup().Transmitter.FrameMS) * time.Millisecond
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
	b.head, b.n = head, first.n
	if first.page != nil {
		b.page = *first.page
	}
	b.session = session.New(session.Revision{Doc: head.Doc, Program: program}, first.set)
	b.features, b.steered = newFeatures(b.proofs), true // what a page thought was playing plays no more
	first.set, first.head = nil, nil
	return first, true
}

// frame takes what arrived and steps once.
func (b *bench) frame(m mail) {
	if m.set != nil {
		b.session.Move(m.set)
	}
	b.n = m.n
	if m.head != nil && m.head.Number > b.head.Number {
		b.adopt(m.head)
	}
	if m.try != nil {
		b.try(m.try)
	}
	for _, f := range b.features {
		if msg := m.asks[f.takes]; msg != nil {
			f.take(b, msg)
		}
	}
	for _, then := range m.done {
		then()
	}
	if m.play != nil {
		b.play(m.play)
	}
	b.beat, b.kept = b.beat || m.beat, b.kept || m.kept
	b.session.Step()
	if m.save != nil {
		saved, err := b.save(*m.save)
		if err != nil {
			slog.Error("a recording was not saved", "error", err)
			return
		}
		b.saved = saved
	}
}

// adopt takes a new revision; a trial goes on on top of it as long as it fits.
func (b *bench) adopt(head *store.Head) {
	program, err := edit.Playable(head.Doc)
	if err != nil {
		slog.Error("a stored model cannot be played", "model", head.ModelID, "error", err)
		return
	}
	b.head = head
	stays, err := b.session.Adopt(session.Revision{Doc: head.Doc, Program: program})
	if err != nil {
		b.refuse(b.trying, err)
	}
	if !stays {
		b.trying = 0
	}
}

// try runs a patch on top of the newest revision without keeping it; a drop goes back to
// the revision.
func (b *bench) try(msg *contract.Asked) {
	if msg.T == contract.ToDrop {
		b.trying = 0
		b.session.Drop()
		return
	}
	if msg.Id == nil {
		return
	}
	var change session.Change
	switch {
	case msg.Patch != nil:
		change = session.Patch(*msg.Patch)
	case msg.Part != nil && msg.Field != nil:
		change = b.session.Set(*msg.Part, *msg.Field, msg.Value)
	default:
		return
	}
	if err := b.session.Try(change); err != nil {
		b.refuse(*msg.Id, err)
		return
	}
	b.trying = *msg.Id
}

func (b *bench) refuse(id int64, err error) {
	p := contract.Problem{Type: "about:blank", Title: "The change does not fit", Status: 422}
	var faults setup.Problems
	if errors.As(err, &faults) {
		list := []contract.Fault(faults)
		p.Errors = &list
	}
	b.refused = &contract.Told{T: contract.FromRefused, Id: &id, Problem: &p}
}

// send hands over what the page does not know yet, one message after the other
// as far as the writer takes them. What is left comes with the next frame: all
// of it is made from the state, so nothing piles up and nothing is lost.
func (b *bench) send(out chan<- []byte) {
	for len(out) < cap(out) { // else the writer would not take it, and it was made for nothing
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
func (b *bench) next() (msg *contract.Told, sent func()) {
	pl := b.session.Player()
	switch {
	case b.shown == nil || b.shown.View != b.session.View():
		return b.whole()
	case b.beat:
		return &contract.Told{T: contract.FromBeat}, func() { b.beat = false }
	case b.kept:
		return &contract.Told{T: contract.FromKept}, func() { b.kept = false }
	case b.refused != nil:
		return b.refused, func() { b.refused = nil }
	case b.saved != nil:
		return b.saved, func() { b.saved = nil }
	case b.played != pl || b.steered:
		return b.playing(true), func() { b.played, b.steered = pl, false }
	}
	if msg, sent := b.differs(); msg != nil {
		return msg, sent
	}
	for _, f := range b.features {
		if msg, sent := f.next(b); msg != nil {
			return msg, sent
		}
	}
	return nil, nil
}

// whole makes the message of all that is on the bench, or of what differs from what was told.
func (b *bench) whole() (*contract.Told, func()) {
	view, values := b.session.View(), b.session.Values(nil)
	model, frameMS, trying := ModelOf(b.head, b.session.Newest().Program,
		b.page), b.session.Runs().Program.Setup().Transmitter.FrameMS, b.trying
	n, waits, stageAt := b.n, b.session.Waits(), len(view.Slots)
	all := &contract.Told{T: contract.FromWhole, Model: &model, Rail: b.session.Rail(), FrameMs: &frameMS,
		Trying: &trying,
		View:   view, Values: &values, N: &n, Waits: &waits,
		Stage: b.session.LiveScene().Picture, StageAt: &stageAt}
	msg := all
	if change := b.sinceShown(all); change != nil {
		msg = change
	}
	return msg, func() {
		b.changes.Tell(values)
		b.shown, b.sentN, b.waits = all, n, waits
		b.changed++
	}
}

// sinceShown makes of all that is on the bench the message of what differs from what was told,
// which is far less while one figure is dragged; nil where only the whole will do.
func (b *bench) sinceShown(all *contract.Told) *contract.Told {
	was := b.shown
	if was == nil || *all.FrameMs != *was.FrameMs || *all.StageAt != *was.StageAt {
		return nil
	}
	at, v, same := b.changes.Since(*all.Values)
	changed, ok := all.View.Since(was.View)
	if !ok || !same {
		return nil
	}
	msg := &contract.Told{T: contract.FromChanged, Trying: all.Trying, Changed: changed, At: &at, V: &v,
		N: all.N, Waits: all.Waits}
	if !reflect.DeepEqual(all.Model, was.Model) {
		msg.Model = all.Model
	}
	if all.Rail != was.Rail { // of the newest revision, which a trial does not change
		msg.Rail = all.Rail
	}
	if !reflect.DeepEqual(all.Stage, was.Stage) {
		msg.Stage = all.Stage
	}
	return msg
}

// differs makes a frame message of what differs from what was sent.
func (b *bench) differs() (*contract.Told, func()) {
	at, v, told := b.changes.Next(b.session)
	waits, pl := b.session.Waits(), b.session.Player()
	if len(at) == 0 && b.n == b.sentN && slices.Equal(waits, b.waits) &&
		(pl == nil || pl.Steps() == b.steps) {
		return nil, nil
	}
	n, k := b.n, b.session.State().Frame-1
	msg := &contract.Told{T: contract.FromFrame, N: &n, K: &k, At: &at, V: &v, Waits: &waits}
	steps := b.steps
	if pl != nil {
		msg.Play, steps = b.playing(false).Play, pl.Steps()
	}
	return msg, func() {
		told()
		b.sentN, b.waits, b.steps = n, waits, steps
		if len(at) > 0 {
			b.changed++
		}
	}
}

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
