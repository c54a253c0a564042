// Package pairing lets phones in over the person's own network: the laptop shows a
// code, a phone that gives it gets a token, and what was given can be taken back.
//
// A code lives for five minutes and for one phone. Wrong tries are slowed down, each
// twice as long as the one before, whoever makes them, and five of them end the code.
// Of a token only its hash is kept.
package pairing

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"axtren/app/store"
)

// How long a code lives, how many wrong tries it outlives, and how long the first
// and the longest wait after one is.
const (
	codeLives  = 5 * time.Minute
	wrongTries = 5
	firstWait  = time.Second
	longWait   = time.Minute
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
	wrong int       // tries of the code that runs
	slow  int       // wrong tries in a row, over all codes
	next  time.Time // before it no try is looked at
	open  map[uuid.UUID]map[*context.CancelFunc]struct{}
}

// NewDesk makes a desk; now tells the time.
func NewDesk(url string, keeper Keeper, now func() time.Time) *Desk {
	return &Desk{URL: url, keeper: keeper, now: now, open: map[uuid.UUID]map[*context.CancelFunc]struct{}{}}
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

// Give takes a code, once, and gives the token of a new phone. The error may be
// *Refused.
func (d *Desk) Give(ctx context.Context, code, name string) (token string, err error) {
	if err := d.try(code); err != nil {
		return "", err
	}
	secret := make([]byte, 32)
	rand.Read(secret)
	token = base64.RawURLEncoding.EncodeToString(secret)
	now := d.now()
	return token, d.keeper.AddPhone(ctx, store.Phone{ID: uuid.New(), Name: name, TokenHash: hash(token), MadeAt: now, SeenAt: now})
}

// try looks at a code.
func (d *Desk) try(code string) error {
	clean := strings.ToUpper(strings.Join(strings.FieldsFunc(code, func(r rune) bool { return r == '-' || r == ' ' }), ""))
	d.mu.Lock()
	defer d.mu.Unlock()
	now := d.now()
	if wait := d.next.Sub(now); wait > 0 {
		return &Refused{"too many wrong codes were given just now", wait}
	}
	if d.code != "" && now.Before(d.until) && subtle.ConstantTimeCompare([]byte(clean), []byte(d.code)) == 1 {
		d.code, d.slow = "", 0
		return nil
	}
	wait := min(firstWait<<min(d.slow, 10), longWait)
	d.slow++
	d.next = now.Add(wait)
	why := "this is not the code that the laptop shows"
	if d.code == "" || !now.Before(d.until) {
		why = "no code counts just now: let the laptop show a new one"
	} else if d.wrong++; d.wrong >= wrongTries {
		d.code, why = "", "that was wrong too often: let the laptop show a new code"
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
	d.mu.Lock()
	defer d.mu.Unlock()
	for cancel := range d.open[id] {
		(*cancel)()
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
