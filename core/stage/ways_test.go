package stage_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
)

// TestWhatAPartIsSeenToDo: in every demo model each control is put to its ends and positions, and what a
// device does is in the words of the picture: what turns or stands further than at rest goes ahead, to the
// right, up, in or out, and the other way back. What is turned round has its words the other way round.
func TestWhatAPartIsSeenToDo(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	on := []string{"turns ahead", "turns forward", "turns in", "runs", "goes to starboard", "goes to the right",
		"goes up", "goes out"}
	back := []string{"turns astern", "turns backward", "turns out", "runs the other way", "goes to port",
		"goes to the left", "goes down", "goes in"}
	said := map[string]bool{}
	for _, m := range yard {
		s := of(t, m.Doc)
		controls := m.Doc.Setup.Transmitter.Controls
		for i := range controls {
			hand, _ := s.p.Hand(string(controls[i].ID))
			for _, v := range []float64{-100, 100, 0, 1, 2} {
				if c := controls[i].Switch; c != nil && (v < 0 || int(v) >= len(c.Positions)) {
					continue
				}
				s.on, s.st, s.hands = s.p.PowerOn(), s.g.Start(), s.p.Rest()
				s.play(0.5)
				before, values := s.g.Numbers(s.st, nil), map[int]float64{}
				for k := range m.Doc.Setup.Devices {
					if slot := s.p.Devices[k].Value; slot != signal.None {
						values[k] = s.on.At(slot)
					}
				}
				s.hands[hand] = v
				s.play(2)
				after := s.g.Numbers(s.st, nil)
				for n, piece := range s.pic.Parts {
					device := m.Doc.Setup.Item(setup.ID(piece.Device))
					plus, minus, turned := s.g.Ways(device.Index)
					if device.Kind != setup.IsDevice || plus == "" || piece.Part == "axle" {
						continue
					}
					at := s.pic.Where.First + n*s.pic.Where.Each
					moved := after[at] - before[at]
					if piece.Moves == "turns" {
						moved = after[at]
					}
					is := s.on.At(s.p.Devices[device.Index].Value)
					if _, servo := m.Doc.Setup.Devices[device.Index].Spec.(*setup.Servo); servo {
						is -= values[device.Index]
					}
					if math.Abs(moved) < 1 || math.Abs(is) < 5 {
						continue
					}
					word := minus
					if is > 0 {
						word = plus
					}
					require.Equal(t, moved > 0, slices.Contains(on, word), "%s %s %s", m.Doc.Setup.Name, piece.Label, word)
					require.Equal(t, moved < 0, slices.Contains(back, word), "%s %s", m.Doc.Setup.Name, piece.Label)
					require.Equal(t, turned, slices.Contains(back, plus))
					said[word] = true
				}
			}
		}
	}
	require.Greater(t, len(said), 8, "%v", said)
}
