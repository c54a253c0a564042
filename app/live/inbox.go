package live

import (
	"sync"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/session"
)

// inbox holds what has arrived since the last frame. It is bounded however fast
// a page sends: of two movements of one control the later counts, of two trials
// the later, of two heads the later.
type inbox struct {
	mu   sync.Mutex
	mail mail
	came chan struct{} // has room for one: something is in the box
}

// mail is what one frame takes out of the box.
type mail struct {
	hello bool
	n     int64             // newest movement
	set   map[string]string // by control: percent, or the name of a position
	try   *contract.Asked
	save  *contract.SaveFormat
	head  *store.Head
	page  *string
	play  *session.Wish                       // an empty ID ends the play
	asks  map[contract.AskedT]*contract.Asked // the newest message for each feature
	// what was made beside the bench; each feature makes one thing at a time
	done []func()
	beat bool // the page asks whether anybody is there
	kept bool // something else is kept of the model than was
	gone bool // the model was removed
}

func newInbox() *inbox { return &inbox{came: make(chan struct{}, 1)} }

func (b *inbox) put(change func(*mail)) {
	b.mu.Lock()
	change(&b.mail)
	b.mu.Unlock()
	select {
	case b.came <- struct{}{}:
	default:
	}
}

func (b *inbox) putHead(head *store.Head) {
	b.put(func(m *mail) {
		if m.head == nil || m.head.Number < head.Number {
			m.head = head
		}
	})
}

// putKept says that something else is kept of the model than was.
func (b *inbox) putKept() { b.put(func(m *mail) { m.kept = true }) }

// putGone says that the model was removed.
func (b *inbox) putGone() { b.put(func(m *mail) { m.gone = true }) }

// greeted tells whether the page has said hello since the box was emptied.
func (b *inbox) greeted() bool {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.mail.hello
}

// putMessage takes a message of the page.
func (b *inbox) putMessage(msg *contract.Asked) {
	b.put(func(m *mail) {
		switch msg.T {
		case contract.ToHello, contract.ToHands:
			m.hello = m.hello || msg.T == contract.ToHello
			if msg.Page != nil {
				m.page = msg.Page
			}
			if msg.N != nil {
				if *msg.N < m.n {
					return // overtaken: no lever is applied out of order
				}
				m.n = *msg.N
			}
			if msg.Set != nil && m.set == nil {
				m.set = map[string]string{}
			}
			if msg.Set != nil {
				for control, v := range *msg.Set {
					text, ok := handText(v)
					if _, known := m.set[control]; ok && (known || len(m.set) < maxHands) {
						m.set[control] = text
					}
				}
			}
		case contract.ToTry, contract.ToDrop:
			m.try = msg
		case contract.ToBeat:
			m.beat = true
		case contract.ToSave:
			m.save = msg.Format
		default:
			if m.asks == nil {
				m.asks = map[contract.AskedT]*contract.Asked{}
			}
			m.asks[msg.T] = msg
		}
	})
}

// take empties the box; what is kept is the number of the newest movement.
func (b *inbox) take() mail {
	b.mu.Lock()
	defer b.mu.Unlock()
	m := b.mail
	b.mail = mail{n: m.n}
	return m
}
