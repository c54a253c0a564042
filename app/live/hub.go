// Package live is the bench: one engine and one pair of hands for each
// WebSocket. The page sends where the levers are; the bench steps at the
// model's frame and sends back what changed.
package live

import (
	"context"
	"net/http"
	"sync"

	"github.com/coder/websocket"
	"github.com/google/uuid"

	"axtren/app/store"
	"axtren/app/web/contract"
	"axtren/core/lines"
	"axtren/core/signal"
)

// maxMessage bounds a message of the page, in bytes.
const maxMessage = 256 << 10

// Hub knows which benches stand for which model.
type Hub struct {
	ctx   context.Context // ends every bench
	mu    sync.Mutex
	rooms map[uuid.UUID]map[*bench]struct{}
}

// NewHub makes a hub whose benches end with ctx.
func NewHub(ctx context.Context) *Hub {
	return &Hub{ctx: ctx, rooms: map[uuid.UUID]map[*bench]struct{}{}}
}

// Changed tells every bench of a model what the model is now. It does not wait.
func (h *Hub) Changed(head *store.Head) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for b := range h.rooms[head.ModelID] {
		b.box.putHead(head)
	}
}

// Serve answers a WebSocket request with a bench for the model that read gives,
// until the page goes or the hub ends. A page of another origin is refused.
func (h *Hub) Serve(w http.ResponseWriter, r *http.Request, id uuid.UUID, read func(context.Context) (*store.Head, error)) error {
	if _, err := read(r.Context()); err != nil {
		return err
	}
	conn, err := websocket.Accept(w, r, &websocket.AcceptOptions{CompressionMode: websocket.CompressionDisabled})
	if err != nil {
		return nil // Accept has answered
	}
	defer conn.CloseNow()
	conn.SetReadLimit(maxMessage)
	ctx, cancel := context.WithCancel(h.ctx)
	defer cancel()
	b := &bench{conn: conn, box: newInbox()}
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

// ModelOf describes a model for the contract.
func ModelOf(head *store.Head, p *signal.Program) contract.Model {
	s := head.Doc.Setup
	m := contract.Model{Id: head.ModelID, Name: s.Name, About: lines.About(s), Kind: s.Craft.Kind, Revision: head.Number,
		ChangedAt: head.MadeAt, Lines: len(s.Outputs), Undriven: lines.Undriven(p), Unplayed: lines.Missing(p)}
	if head.UndoWords != "" {
		m.Undo = &head.UndoWords
	}
	if head.RedoWords != "" {
		m.Redo = &head.RedoWords
	}
	return m
}
