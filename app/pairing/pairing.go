// Package pairing lets phones in over the person's own network: the laptop shows a
// code, a phone that gives it gets a token, and what was given can be taken back.
//
// A code lives for five minutes and for one phone. Wrong tries are slowed down by the
// address that they come from, each twice as long as the one before; after five of them
// the address has to wait for a new code. So whoever keeps guessing shuts out nobody but
// themselves; what all of them together may try ends the code long before it is found.
// Of a token only its hash is kept.
package pairing

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"net/netip"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"axtren/app/store"
)

// How long a code lives, how many wrong tries it outlives, and how long the first
// and the longest wait after one is.
const (
	codeLives    = 5 * time.Minute
	wrongTries   = 5
	firstWait    = time.Second
	longWait     = time.Minute
	wrongInAll   = 2000 // of one code; it has 30^8 letters
	maxAddresses = 1000 // that are remembered; the longest unseen is forgotten
)

// letters of a code: none that can be taken for another.
const letters = "23456789ABCDEFGHJKMNPQRSTVWXYZ"

// Keeper is where phones are kept.
type Keeper interface {
	Phones(ctx context.Context) ([]store.Phone, error)
	AddPhone(ctx context.Context, p store.Phone) error
	PhoneOf(ctx context.Context, tokenHash []byte, now time.Time) (*store.Phone, error)
	DropPhone(ctx context.Context, id uuid.UUID) error
}

// Desk lets phones in and sends them away.
type Desk struct {
	URL string // where a phone gives its code

	keeper Keeper
	now    func() time.Time

	mu    sync.Mutex
	code  string
	until time.Time
	wrong int // tries of the code that runs, from wherever
	from  map[netip.Addr]*guesser
	open  map[uuid.UUID]map[*context.CancelFunc]struct{}
}

// guesser is an address from which wrong codes came.
type guesser struct {
	wrong int       // tries of the code that runs
	slow  int       // wrong tries in a row, over all codes
	next  time.Time // before it no try is looked at
	seen  time.Time
}

// NewDesk makes a desk; now tells the time.
func NewDesk(url string, keeper Keeper, now func() time.Time) *Desk {
	return &Desk{URL: url, keeper: keeper, now: now, from: map[netip.Addr]*guesser{},
		open: map[uuid.UUID]map[*context.CancelFunc]struct{}{}}
}

// Refused says why a code was not taken; Wait is how long no other is looked at.
type Refused struct {
	Why  string
	Wait time.Duration
}

// Error says it in one line.
func (r *Refused) Error() string {
	if r.Wait > 0 {
		return fmt.Sprintf("%s; wait %.0f s", r.Why, r.Wait.Seconds())
	}
	return r.Why
}

// Code makes a new code; the one before counts no more.
func (d *Desk) Code() (code string, until time.Time) {
	made := make([]byte, 8)
	for i := range made {
		made[i] = letters[uniform(len(letters))]
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.code, d.until, d.wrong = string(made), d.now().Add(codeLives), 0
	for _, g := range d.from {
		g.wrong = 0
	}
	return d.code[:4] + "-" + d.code[4:], d.until
}

// uniform gives a number below n, each as likely.
func uniform(n int) int {
	var b [1]byte
	for {
		rand.Read(b[:])
		if int(b[0]) < 256/n*n {
			return int(b[0]) % n
		}
	}
}

// Give takes a code that came from an address, once, and gives the token of a new
// phone. The error may be *Refused.
func (d *Desk) Give(ctx context.Context, from netip.Addr, code, name string) (token string, err error) {
	if err := d.try(network(from), code); err != nil {
		return "", err
	}
	secret := make([]byte, 32)
	rand.Read(secret)
	token = base64.RawURLEncoding.EncodeToString(secret)
	now := d.now()
	return token, d.keeper.AddPhone(ctx, store.Phone{ID: uuid.New(), Name: name, TokenHash: hash(token),
		MadeAt: now, SeenAt: now})
}

// network is what counts as one address: of IPv6 the half that a household has.
func network(from netip.Addr) netip.Addr {
	from = from.Unmap().WithZone("")
	if !from.Is6() {
		return from
	}
	prefix, err := from.Prefix(64)
	if err != nil {
		return from
	}
	return prefix.Addr()
}

// guesserAt finds an address among those from which wrong codes came, or notes it.
func (d *Desk) guesserAt(from netip.Addr, now time.Time) *guesser {
	g := d.from[from]
	if g == nil {
		if len(d.from) >= maxAddresses {
			oldest := from
			for at, other := range d.from {
				if d.from[oldest] == nil || other.seen.Before(d.from[oldest].seen) {
					oldest = at
				}
			}
			delete(d.from, oldest)
		}
		g = &guesser{}
		d.from[from] = g
	}
	g.seen = now
	return g
}

// try looks at a code.
func (d *Desk) try(from netip.Addr, code string) error {
	clean := strings.ToUpper(strings.Join(strings.FieldsFunc(code,
		func(r rune) bool { return r == '-' || r == ' ' }), ""))
	d.mu.Lock()
	defer d.mu.Unlock()
	now := d.now()
	if g := d.from[from]; g != nil {
		if wait := g.next.Sub(now); wait > 0 {
			return &Refused{"too many wrong codes came from here just now", wait}
		}
		if g.wrong >= wrongTries && d.code != "" {
			return &Refused{"that was wrong too often from here: let the laptop show a new code", 0}
		}
	}
	if d.code != "" && now.Before(d.until) && subtle.ConstantTimeCompare([]byte(clean), []byte(d.code)) == 1 {
		d.code = ""
		delete(d.from, from)
		return nil
	}
	g := d.guesserAt(from, now)
	wait := min(firstWait<<min(g.slow, 10), longWait)
	g.slow++
	g.next = now.Add(wait)
	why := "this is not the code that the laptop shows"
	if d.code == "" || !now.Before(d.until) {
		return &Refused{"no code counts just now: let the laptop show a new one", wait}
	}
	g.wrong++
	if d.wrong++; d.wrong >= wrongInAll {
		d.code, why = "", "too many wrong codes were given: let the laptop show a new one"
	} else if g.wrong >= wrongTries {
		why = "that was wrong too often from here: let the laptop show a new code"
	}
	return &Refused{why, wait}
}

func hash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// Known finds the phone of a token. The error may be store.ErrNoPhone.
func (d *Desk) Known(ctx context.Context, token string) (*store.Phone, error) {
	return d.keeper.PhoneOf(ctx, hash(token), d.now())
}

// Phones lists the phones that were let in.
func (d *Desk) Phones(ctx context.Context) ([]store.Phone, error) { return d.keeper.Phones(ctx) }

// TakeBack ends what a phone may do, and what it does just now.
func (d *Desk) TakeBack(ctx context.Context, id uuid.UUID) error {
	if err := d.keeper.DropPhone(ctx, id); err != nil {
		return err
	}
	d.SentAway(id)
	return nil
}

// SentAway ends what a phone does here just now; another server may have taken it back.
func (d *Desk) SentAway(id uuid.UUID) {
	d.mu.Lock()
	defer d.mu.Unlock()
	for cancel := range d.open[id] {
		(*cancel)()
	}
}

// Recheck ends what phones do here that were taken back while nothing was heard of it.
func (d *Desk) Recheck(ctx context.Context) error {
	phones, err := d.keeper.Phones(ctx)
	if err != nil {
		return err
	}
	still := map[uuid.UUID]bool{}
	for _, p := range phones {
		still[p.ID] = true
	}
	d.mu.Lock()
	var gone []uuid.UUID
	for id := range d.open {
		if !still[id] {
			gone = append(gone, id)
		}
	}
	d.mu.Unlock()
	for _, id := range gone {
		d.SentAway(id)
	}
	return nil
}

// During gives a context that ends when a phone is taken back; done lets go of it.
func (d *Desk) During(ctx context.Context, id uuid.UUID) (context.Context, func()) {
	ctx, cancel := context.WithCancel(ctx)
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.open[id] == nil {
		d.open[id] = map[*context.CancelFunc]struct{}{}
	}
	d.open[id][&cancel] = struct{}{}
	return ctx, func() {
		cancel()
		d.mu.Lock()
		defer d.mu.Unlock()
		if delete(d.open[id], &cancel); len(d.open[id]) == 0 {
			delete(d.open, id)
		}
	}
}
