// Package live is the bench: one engine and one pair of hands for each
// WebSocket. The page sends where the levers are; the bench steps at the
// model's frame and sends back what changed.
package live

import (
	"context"
	"errors"
	"maps"
	"net/http"
	"slices"
	"sync"
	"sync/atomic"

	"github.com/coder/websocket"
	"github.com/google/uuid"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/lines"
	"axtren/core/signal"
)

// compressFrom is how large a message is that is sent compressed, in bytes.
const compressFrom = 2 << 10

// maxMessage bounds a message of the page, in bytes.
const maxMessage = 256 << 10

// Hub knows which benches stand for which model.
type Hub struct {
	ctx   context.Context // ends every bench
	mu    sync.Mutex
	rooms map[uuid.UUID]map[*bench]struct{}

	benches atomic.Int64
	proofs  *proofs
}

// NewHub makes a hub whose benches end with ctx.
func NewHub(ctx context.Context) *Hub {
	return &Hub{ctx: ctx, rooms: map[uuid.UUID]map[*bench]struct{}{}, proofs: newProofs()}
}

// Changed tells every bench of a model what the model is now. It does not wait.
func (h *Hub) Changed(head *store.Head) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for b := range h.rooms[head.ModelID] {
		b.box.putHead(head)
	}
}

// Kept tells every bench of a model that something else is kept of it than was. It does not wait.
func (h *Hub) Kept(id uuid.UUID) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for b := range h.rooms[id] {
		b.box.putKept()
	}
}

// Removed ends every bench of a model that is no more, and says why. It does not wait.
func (h *Hub) Removed(id uuid.UUID) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for b := range h.rooms[id] {
		b.box.putGone()
	}
}

// Open tells whether any bench stands for a model.
func (h *Hub) Open(id uuid.UUID) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	return len(h.rooms[id]) > 0
}

// All lists the models that benches stand for.
func (h *Hub) All() []uuid.UUID {
	h.mu.Lock()
	defer h.mu.Unlock()
	return slices.Collect(maps.Keys(h.rooms))
}

// Source is where a bench has its model and its recordings from.
type Source interface {
	Head(ctx context.Context, model uuid.UUID) (*store.Head, error)
	Recording(ctx context.Context, model, id uuid.UUID) (*store.Recording, error)
	Walk(ctx context.Context, model, id uuid.UUID) (*store.Walk, error)
}

// maxBenches bounds the benches of a server: each may use a percent of a
// processor.
const maxBenches = 400

// ErrFull says that the server has as many benches as it can play.
var ErrFull = errors.New("too many benches are open on this server")

// Serve answers a WebSocket request with a bench for a model, until the page goes,
// the context of the request or the hub ends. A page of another origin is refused. The error may be ErrFull.
func (h *Hub) Serve(w http.ResponseWriter, r *http.Request, id uuid.UUID, from Source) error {
	read := func(ctx context.Context) (*store.Head, error) { return from.Head(ctx, id) }
	if _, err := read(r.Context()); err != nil {
		return err
	}
	if h.benches.Add(1) > maxBenches {
		h.benches.Add(-1)
		return ErrFull
	}
	defer h.benches.Add(-1)
	conn, err := websocket.Accept(w, r,
		// a frame is too small to gain by it; all that is on a bench gains ten times
		&websocket.AcceptOptions{CompressionMode: websocket.CompressionNoContextTakeover,
			CompressionThreshold: compressFrom})
	if err != nil {
		return nil // Accept has answered
	}
	defer func() { _ = conn.CloseNow() }() // closed or not: nobody is there to be told
	conn.SetReadLimit(maxMessage)
	ctx, cancel := context.WithCancel(h.ctx)
	defer cancel()
	defer context.AfterFunc(r.Context(), cancel)() // who asked may be sent away
	b := &bench{conn: conn, box: newInbox(), model: id, from: from, proofs: h.proofs}
	h.enter(id, b)
	defer h.leave(id, b)
	head, err := read(ctx) // after entering: no edit falls between
	if err != nil {
		conn.Close(websocket.StatusInternalError, "the model cannot be read")
		return nil
	}
	go func() {
		defer cancel()
		b.listen(ctx)
	}()
	b.run(ctx, head)
	conn.Close(websocket.StatusGoingAway, "the bench is closed")
	return nil
}

func (h *Hub) enter(id uuid.UUID, b *bench) {
	h.mu.Lock()
	defer h.mu.Unlock()
	if h.rooms[id] == nil {
		h.rooms[id] = map[*bench]struct{}{}
	}
	h.rooms[id][b] = struct{}{}
}

func (h *Hub) leave(id uuid.UUID, b *bench) {
	h.mu.Lock()
	defer h.mu.Unlock()
	delete(h.rooms[id], b)
	if len(h.rooms[id]) == 0 {
		delete(h.rooms, id)
	}
}

// ModelOf describes a model for the contract, as a page has it.
func ModelOf(head *store.Head, p *signal.Program, page string) contract.Model {
	s := head.Doc.Setup
	m := contract.Model{Id: head.ModelID, Name: s.Name, About: lines.About(s), Kind: s.Craft.Kind,
		Revision:  head.Number,
		ChangedAt: head.MadeAt, Lines: len(s.Outputs), Undriven: lines.Undriven(p),
		Unplayed: lines.Missing(p)}
	if of, there := s.PieceCopy(); there {
		m.Name, m.About, m.Shelf = s.CopyLabel(of), of.Kind.Name, &of.Kind.Key
	}
	if words := head.UndoWords(page); words != "" {
		m.Undo = &words
	}
	if words := head.RedoWords(page); words != "" {
		m.Redo = &words
	}
	return m
}
