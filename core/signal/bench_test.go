package signal

import (
	"hash/maphash"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

// reference is a setup of a size that no model on the bench is likely to pass:
// 16 outputs, 48 mixes, 64 blocks, 8 steppers, 4 sequences, 4 patterns, 24
// demands, 2 receivers with 12 pins, 12 devices.
func reference(t testing.TB) *Program {
	doc, err := setup.ReadYAML([]byte(read(t, "testdata/reference.yaml")))
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// thumbs are hands as people have them: two sticks that never rest, sliders that
// stand, a switch now and then.
func thumbs(p *Program, n int) []Hands {
	list := moves(p, n)
	for k := range list {
		for i, c := range p.Setup().Transmitter.Controls {
			switch {
			case c.Switch != nil:
				list[k][i] = float64((k / (50 + 37*i)) % len(c.Switch.Positions))
			case i >= 4:
				list[k][i] = c.Axis.Rest()
			}
		}
	}
	return list
}

// moves are hands of which every axis goes somewhere in each of n frames, the
// same every time.
func moves(p *Program, n int) []Hands {
	list := make([]Hands, n)
	for k := range list {
		list[k] = p.Rest()
		for i, c := range p.Setup().Transmitter.Controls {
			if c.Axis != nil {
				list[k][i] = math.Round(100 * math.Sin(float64(k*(i+2))/40))
			} else {
				list[k][i] = float64((k / (17 + 5*i)) % len(c.Switch.Positions))
			}
		}
	}
	return list
}

// everyNew are hands of which every one is elsewhere in every frame: each axis and each switch.
func everyNew(p *Program, n int) []Hands {
	list := moves(p, n)
	for k := range list {
		for i, c := range p.Setup().Transmitter.Controls {
			if c.Axis != nil {
				list[k][i] = float64((k*(2*i+7))%201 - 100)
			} else {
				list[k][i] = float64((k + i) % len(c.Switch.Positions))
			}
		}
	}
	return list
}

// random are hands anywhere in every frame, the same every time.
func random(p *Program, n int) []Hands {
	list, seeded := moves(p, n), rand.New(rand.NewPCG(1, 2))
	for k := range list {
		for i, c := range p.Setup().Transmitter.Controls {
			if c.Axis != nil {
				list[k][i] = seeded.Float64()*200 - 100
			} else {
				list[k][i] = float64(seeded.IntN(len(c.Switch.Positions)))
			}
		}
	}
	return list
}

// playing is what is done to a program while it is measured.
type playing struct {
	name  string
	hands []Hands
}

// played is what a program is measured with, from what asks the least of it to what asks the
// most.
func played(p *Program) []playing {
	const n = 1024
	rest := make([]Hands, n)
	for k := range rest {
		rest[k] = p.Rest()
	}
	return []playing{{"at rest", rest}, {"two thumbs", thumbs(p, n)}, {"every axis goes", moves(p, n)},
		{"every input new", everyNew(p, n)}, {"all random", random(p, n)}}
}

// BenchmarkReference is a frame, with the instructions asleep whose inputs are as they were, and
// with all of them run.
func BenchmarkReference(b *testing.B) {
	p := reference(b)
	for _, by := range played(p) {
		for _, awake := range []bool{false, true} {
			name := by.name
			if awake {
				name += ", nothing asleep"
			}
			b.Run(name, func(b *testing.B) {
				st := p.PowerOn()
				b.ReportAllocs()
				for i := 0; b.Loop(); i++ {
					if awake {
						st.V[p.unsettled] = 1
					}
					p.Step(st, by.hands[i%len(by.hands)])
				}
				b.ReportMetric(float64(8*len(st.V)), "bytes/state")
				b.ReportMetric(float64(8*p.Kept()), "bytes/kept")
			})
		}
	}
}

// BenchmarkHour plays an hour of frames of the reference, not written out.
func BenchmarkHour(b *testing.B) {
	p := reference(b)
	hands := thumbs(p, 1024)
	for b.Loop() {
		st := p.PowerOn()
		for k := range 3600 * 50 {
			p.Step(st, hands[k%len(hands)])
		}
	}
}

func BenchmarkCopyState(b *testing.B) {
	p := reference(b)
	st, to := p.PowerOn(), p.PowerOn()
	b.ReportAllocs()
	for b.Loop() {
		to.CopyFrom(st)
	}
}

func BenchmarkHashState(b *testing.B) {
	p := reference(b)
	st := p.PowerOn()
	seed := maphash.MakeSeed()
	room := p.Snapshot(st, nil)
	b.ReportAllocs()
	for b.Loop() {
		room = p.Snapshot(st, room)
		room.Hash(seed)
	}
}

// TestTheKeptSlotsAreTheState: a state whose other slots are rubbish goes on as
// one that was never touched.
func TestTheKeptSlotsAreTheState(t *testing.T) {
	p := reference(t)
	st, other := p.PowerOn(), p.PowerOn()
	seed := maphash.MakeSeed()
	for k, hands := range moves(p, 3000) {
		hands[len(p.controls)+1] = truth(k%200 > 40) // the link
		hands[len(p.controls)] = truth(k%700 > 30)   // the transmitter
		hands[len(p.controls)+2] = truth(k%900 > 60) // a receiver
		copy(other.V[p.Kept():], p.initial[p.Kept():])
		for _, r := range p.Routes {
			other.V[r.Asked] = math.Inf(1) // nothing is taken for reached
		}
		p.Step(st, hands)
		p.Step(other, hands)
		require.Equal(t, st.V[:p.Kept()], other.V[:p.Kept()], "frame %d", k)
		require.Equal(t, p.Snapshot(st, nil).Hash(seed), p.Snapshot(other, nil).Hash(seed))
	}
}

// TestWhatIsSkippedWouldGiveTheSame: a state in which everything is computed in
// every frame, and one in which what cannot have changed is not, hold the same.
func TestWhatIsSkippedWouldGiveTheSame(t *testing.T) {
	p := reference(t)
	hands := append(thumbs(p, 2500), moves(p, 500)...)
	for k := range hands {
		hands[k][len(p.controls)+1] = truth(k%600 < 550) // the link
		hands[k][len(p.controls)] = truth(k%900 < 880)   // the transmitter
	}
	sameWithoutSleep(t, p, hands)
}

func sameWithoutSleep(t testing.TB, p *Program, hands []Hands) {
	st, full := p.PowerOn(), p.PowerOn()
	for k := range hands {
		full.V[p.unsettled] = 1
		p.Step(st, hands[k])
		p.Step(full, hands[k])
		for slot, v := range full.V {
			require.True(t, v == st.V[slot] || slot == int(p.unsettled),
				"frame %d, slot %d: %g, computed always %g", k, slot, st.V[slot], v)
		}
	}
}

// TestTheOrderOfListsThatMeanNothing: demands, blocks, steppers, patterns and
// devices in another order give the same.
func TestTheOrderOfListsThatMeanNothing(t *testing.T) {
	text := read(t, "testdata/reference.yaml")
	turned := text
	for _, list := range []string{"demands", "logic", "steppers", "sequences", "patterns", "devices"} {
		turned = turnList(turned, list)
	}
	require.NotEqual(t, text, turned)
	a := reference(t)
	doc, err := setup.ReadYAML([]byte(turned))
	require.NoError(t, err)
	b, err := Compile(doc.Setup)
	require.NoError(t, err)
	sa, sb := a.PowerOn(), b.PowerOn()
	for k, hands := range moves(a, 2000) {
		a.Step(sa, hands)
		b.Step(sb, hands)
		for i := range a.Routes {
			require.Equal(t, sa.At(a.Routes[i].US), sb.At(b.Routes[i].US), "frame %d, output %d", k, i)
		}
		last := len(a.Devices) - 1
		for i := range a.Devices {
			require.Equal(t, sa.At(a.Devices[i].Value), sb.At(b.Devices[last-i].Value), "frame %d, device %d",
				k, i)
		}
	}
}

// turnList turns the entries of a list of the reference round.
func turnList(text, list string) string {
	lines := strings.Split(text, "\n")
	from := 0
	for lines[from] != list+":" {
		from++
	}
	to := from + 1
	for strings.HasPrefix(lines[to], "  - ") {
		to++
	}
	for i, j := from+1, to-1; i < j; i, j = i+1, j-1 {
		lines[i], lines[j] = lines[j], lines[i]
	}
	return strings.Join(lines, "\n")
}
