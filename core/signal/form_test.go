package signal

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// TestADifferenceIsBounded: what two outputs are apart, at any place within a span, lies within its bounds.
func TestADifferenceIsBounded(t *testing.T) {
	p := figureProgram(t)
	rng := rand.New(rand.NewPCG(4, 9))
	st, hands := p.PowerOn(), p.Rest()
	narrow := 0
	for frame := range 4000 {
		anyHands(p, rng, hands)
		p.Step(st, hands)
		a, _ := p.Figure(p.Routes[frame%5].Target)
		b, _ := p.Figure(p.Routes[(frame/5)%5].Target)
		box := map[Slot]Span{}
		for _, f := range []*Figure{a, b} {
			f.Read(st)
			for _, axis := range f.Axes {
				if _, known := box[axis]; !known {
					v := st.At(axis)
					box[axis] = Span{max(v-float64(rng.IntN(60)), -100), min(v+float64(rng.IntN(60)), 100)}
				}
				f.Put(axis, box[axis])
			}
		}
		apart := a.Span()
		b.Span()
		d := Difference(a, b, 2, 3)
		if d.High-d.Low < 2*(apart.High-apart.Low) {
			narrow++
		}
		for range 8 {
			for axis, span := range box {
				v := span.Low + rng.Float64()*(span.High-span.Low)
				a.Put(axis, Span{v, v})
				b.Put(axis, Span{v, v})
			}
			is := 2*a.Span().Low - 3*b.Span().Low
			require.LessOrEqual(t, d.Low, is, "frame %d", frame)
			require.GreaterOrEqual(t, d.High, is, "frame %d", frame)
		}
	}
	require.Positive(t, narrow)
}

// TestTheSameInOtherWords: figures that are the same over the whole travel of both axes, whatever they are
// written like, are apart by less than rounding; others are not.
func TestTheSameInOtherWords(t *testing.T) {
	head := `{"format":"axtren-setup","version":1,"transmitter":{"controls":[{"id":"x","kind":"axis"},` +
		`{"id":"y","kind":"axis"}]},"demands":[{"id":"soft","from":"x","expo":40},` +
		`{"id":"half","from":"x","rate":50},{"id":"dead","from":"x","deadband":10},` +
		`{"id":"bend","from":"y","curve":[[-100,-50],[100,50]]}],"mixes":[`
	tail := `],"outputs":[{"id":"a","channel":1},{"id":"b","channel":2}]}`
	for _, c := range []struct {
		name, mixes string
		same        bool
	}{
		{"a rate, or a gain", `{"to":"a","from":"half"},{"to":"b","from":"x","gain":50}`, true},
		{"in another order", `{"to":"a","from":"half"},{"to":"a","from":"y","gain":30},` +
			`{"to":"b","from":"y","gain":30},{"to":"b","from":"half"}`, true},
		{"once, or twice", `{"to":"a","from":"x"},{"to":"b","from":"half"},{"to":"b","from":"half"}`, true},
		{"a straight curve", `{"to":"a","from":"bend"},{"to":"b","from":"y","gain":50}`, true},
		{"a bend of the same", `{"to":"a","from":"soft"},{"to":"b","from":"soft","gain":50},` +
			`{"to":"b","from":"soft","gain":50}`, true},
		{"a step that counts", `{"to":"a","from":"soft"},{"to":"b","from":"x"}`, false},
		{"a little more", `{"to":"a","from":"half"},{"to":"b","from":"x","gain":50.0001}`, false},
		{"its size", `{"to":"a","from":"x","shape":"abs"},{"to":"b","from":"x"}`, false},
		{"its dead band", `{"to":"a","from":"dead"},{"to":"b","from":"x"}`, false},
		{"a bias", `{"to":"a","from":"x"},{"to":"b","from":"x","bias":0.001}`, false},
	} {
		doc, err := setup.ReadJSON([]byte(head + c.mixes + tail))
		require.NoError(t, err, c.name)
		p, err := Compile(doc.Setup)
		require.NoError(t, err)
		a, _ := p.Figure(p.Routes[0].Target)
		b, _ := p.Figure(p.Routes[1].Target)
		for _, f := range []*Figure{a, b} {
			for _, axis := range f.Axes {
				f.Put(axis, Span{-100, 100})
			}
			f.Span()
		}
		d := Difference(a, b, 1, 1)
		require.Equal(t, c.same, max(math.Abs(d.Low), math.Abs(d.High)) < 1e-9, "%s: %v", c.name, d)
		require.False(t, math.IsNaN(d.Low+d.High), c.name)
	}
}
