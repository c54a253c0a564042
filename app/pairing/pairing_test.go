package pairing

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"net/netip"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/store"
)

// memory keeps phones for a test.
type memory struct{ phones []store.Phone }

func (m *memory) Phones(context.Context) ([]store.Phone, error) { return m.phones, nil }
func (m *memory) AddPhone(_ context.Context, p store.Phone) error {
	m.phones = append(m.phones, p)
	return nil
}
func (m *memory) PhoneOf(_ context.Context, hash []byte, _ time.Time) (*store.Phone, error) {
	for i := range m.phones {
		if bytes.Equal(m.phones[i].TokenHash, hash) {
			return &m.phones[i], nil
		}
	}
	return nil, store.ErrNoPhone
}
func (m *memory) DropPhone(_ context.Context, id uuid.UUID) error {
	for i := range m.phones {
		if m.phones[i].ID == id {
			m.phones = append(m.phones[:i], m.phones[i+1:]...)
			return nil
		}
	}
	return store.ErrNoPhone
}

// home is where the honest phone is.
var home = netip.MustParseAddr("192.168.1.30")

func desk() (*Desk, *time.Time, *memory) {
	now := time.Date(2026, 5, 1, 12, 0, 0, 0, time.UTC)
	m := &memory{}
	return NewDesk("http://x/", m, func() time.Time { return now }), &now, m
}

func TestACodeLetsOnePhoneIn(t *testing.T) {
	d, _, m := desk()
	ctx := context.Background()
	code, _ := d.Code()
	require.Regexp(t, "^[2-9A-Z]{4}-[2-9A-Z]{4}$", code)
	token, err := d.Give(ctx, home, " "+strings.ToLower(code), "phone")
	require.NoError(t, err)
	phone, err := d.Known(ctx, token)
	require.NoError(t, err)
	require.Equal(t, "phone", phone.Name)
	require.NotContains(t, string(m.phones[0].TokenHash), token, "the token itself is not kept")
	_, err = d.Give(ctx, home, code, "another")
	require.ErrorContains(t, err, "no code counts just now", "a code is for one phone")
	_, err = d.Known(ctx, token+"A")
	require.ErrorIs(t, err, store.ErrNoPhone, "a forged token")
	require.NoError(t, d.TakeBack(ctx, phone.ID))
	_, err = d.Known(ctx, token)
	require.ErrorIs(t, err, store.ErrNoPhone)
}

func TestCodesRunOut(t *testing.T) {
	d, now, _ := desk()
	code, until := d.Code()
	*now = until
	_, err := d.Give(context.Background(), home, code, "late")
	require.ErrorContains(t, err, "no code counts just now")
	old, _ := d.Code()
	*now = now.Add(time.Hour)
	d.Code()
	_, err = d.Give(context.Background(), home, old, "old")
	require.ErrorContains(t, err, "not the code")
}

// TestWrongTriesAreSlowedDown: each wait is twice the one before, the right code
// does not help meanwhile, and five wrong tries end a code.
func TestWrongTriesAreSlowedDown(t *testing.T) {
	d, now, _ := desk()
	code, _ := d.Code()
	for try := range wrongTries {
		_, err := d.Give(context.Background(), home, "AAAA-AAAA", "x")
		var refused *Refused
		require.True(t, errors.As(err, &refused))
		require.Equal(t, time.Second<<try, refused.Wait)
		_, err = d.Give(context.Background(), home, code, "x")
		require.ErrorContains(t, err, "too many wrong codes came from here",
			"nothing is looked at before the wait is over")
		*now = now.Add(refused.Wait)
	}
	_, err := d.Give(context.Background(), home, code, "x")
	require.ErrorContains(t, err, "wrong too often from here", "the address has to wait for a new code")
	for range 20 {
		*now = now.Add(time.Hour)
		d.Code()
		_, err = d.Give(context.Background(), home, "BBBB-BBBB", "x")
	}
	var refused *Refused
	require.True(t, errors.As(err, &refused))
	require.Equal(t, longWait, refused.Wait)
	*now = now.Add(time.Hour)
	code, _ = d.Code()
	_, err = d.Give(context.Background(), home, code, "x")
	require.NoError(t, err)
}

// TestAGuesserShutsOutNobodyElse: an honest phone is let in while others keep guessing,
// from one address and from many; all of them together end the code.
func TestAGuesserShutsOutNobodyElse(t *testing.T) {
	d, now, _ := desk()
	code, _ := d.Code()
	at := func(i int) netip.Addr { return netip.AddrFrom4([4]byte{10, 0, byte(i >> 8), byte(i)}) }
	for range 100 {
		_, err := d.Give(context.Background(), at(1), "AAAA-AAAA", "x")
		require.Error(t, err)
		*now = now.Add(10 * time.Millisecond)
	}
	_, err := d.Give(context.Background(), home, code, "honest")
	require.NoError(t, err)

	code, _ = d.Code()
	for i := range wrongInAll - 1 {
		_, err := d.Give(context.Background(), at(i+2), "AAAA-AAAA", "x")
		require.ErrorContains(t, err, "not the code")
	}
	require.LessOrEqual(t, len(d.from), maxAddresses)
	_, err = d.Give(context.Background(), at(9999), "AAAA-AAAA", "x")
	require.ErrorContains(t, err, "too many wrong codes were given")
	_, err = d.Give(context.Background(), home, code, "late")
	require.ErrorContains(t, err, "no code counts")
}

// TestAHouseholdIsOneAddress: the half of an IPv6 address that changes does not count.
func TestAHouseholdIsOneAddress(t *testing.T) {
	d, _, _ := desk()
	code, _ := d.Code()
	_, err := d.Give(context.Background(), netip.MustParseAddr("fd00::1:2"), "AAAA-AAAA", "x")
	require.Error(t, err)
	_, err = d.Give(context.Background(), netip.MustParseAddr("fd00::9:9"), code, "x")
	require.ErrorContains(t, err, "too many wrong codes came from here")
	_, err = d.Give(context.Background(), netip.MustParseAddr("fd00:0:0:1::9"), code, "x")
	require.NoError(t, err)
	require.Equal(t, netip.MustParseAddr("10.1.2.3"), network(netip.MustParseAddr("::ffff:10.1.2.3")))
}

// TestTokensAreRandom: no two alike, each of 32 bytes, and what is kept is their hash.
func TestTokensAreRandom(t *testing.T) {
	d, _, m := desk()
	seen, bytesSeen := map[string]bool{}, map[byte]bool{}
	for i := range 50 {
		code, _ := d.Code()
		token, err := d.Give(context.Background(), home, code, "phone")
		require.NoError(t, err)
		require.False(t, seen[token], "token %d", i)
		seen[token] = true
		raw, err := base64.RawURLEncoding.DecodeString(token)
		require.NoError(t, err)
		require.Len(t, raw, 32)
		for _, b := range raw {
			bytesSeen[b] = true
		}
		sum := sha256.Sum256([]byte(token))
		require.Equal(t, sum[:], m.phones[i].TokenHash)
	}
	require.Greater(t, len(bytesSeen), 240)
}

// TestWhatWasMissedIsLookedUp: a phone that another server sent away while nothing was
// heard.
func TestWhatWasMissedIsLookedUp(t *testing.T) {
	d, _, m := desk()
	for range 2 {
		code, _ := d.Code()
		_, err := d.Give(context.Background(), home, code, "phone")
		require.NoError(t, err)
	}
	gone, doneGone := d.During(context.Background(), m.phones[0].ID)
	still, doneStill := d.During(context.Background(), m.phones[1].ID)
	defer doneGone()
	defer doneStill()
	require.NoError(t, m.DropPhone(context.Background(), m.phones[0].ID))
	require.NoError(t, d.Recheck(context.Background()))
	require.Error(t, gone.Err())
	require.NoError(t, still.Err())
}

// TestTakingBackEndsWhatRuns: an open bench of the phone ends.
func TestTakingBackEndsWhatRuns(t *testing.T) {
	d, _, m := desk()
	code, _ := d.Code()
	_, err := d.Give(context.Background(), home, code, "phone")
	require.NoError(t, err)
	ctx, done := d.During(context.Background(), m.phones[0].ID)
	other, doneOther := d.During(context.Background(), uuid.New())
	require.NoError(t, d.TakeBack(context.Background(), m.phones[0].ID))
	require.Error(t, ctx.Err())
	require.NoError(t, other.Err())
	done()
	doneOther()
	require.Empty(t, d.open)
}

// TestCodesAreAllDifferent: no letter is left out, none stands too often.
func TestCodesAreAllDifferent(t *testing.T) {
	d, _, _ := desk()
	count := map[rune]int{}
	for range 3000 {
		code, _ := d.Code()
		for _, r := range strings.ReplaceAll(code, "-", "") {
			count[r]++
		}
	}
	require.Len(t, count, len(letters))
	for r, n := range count {
		require.InDelta(t, 3000*8/len(letters), n, 170, "%c", r) // six standard deviations
	}
}
