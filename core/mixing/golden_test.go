package mixing_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/mixing"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// TestWholePairs: the pairs of a model with their ways, sources and recipes, what each
// is asked for over the square, and the ways that it takes.
func TestWholePairs(t *testing.T) {
	docs := map[string]*setup.Document{}
	for _, m := range golden.Models(t) {
		docs[m.Name] = m.Doc
	}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		docs[strings.ToLower(m.Doc.Setup.Name)] = m.Doc
	}
	for name, doc := range docs {
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err)
		st := p.PowerOn()
		p.Step(st, p.Rest())
		var b strings.Builder
		b.WriteString(golden.Text(t, mixing.Sources(doc.Setup)))
		for _, pair := range mixing.Find(doc.Setup) {
			b.WriteString(golden.Text(t, pair))
			for _, f := range mixing.Fields(p, st, &pair) {
				fmt.Fprintf(&b, "%s:\n", f.Rule)
				for row := 0; row < mixing.Side; row += 20 {
					for col := 0; col < mixing.Side; col += 20 {
						k := row*mixing.Side + col
						fmt.Fprintf(&b, " %4d %4d %d |", int(f.First[k])-100, int(f.Second[k])-100, f.Cut[k])
					}
					b.WriteString("\n")
				}
				for i, at := range mixing.Paths(&f, pair.Kind) {
					if i%7 == 0 {
						fmt.Fprintf(&b, "  %+v\n", at)
					}
				}
			}
		}
		golden.Equal(t, name, b.String())
	}
}

// TestWholeWritings: the mixes that each way makes of a pair, and what is said of it.
func TestWholeWritings(t *testing.T) {
	for _, m := range golden.Models(t) {
		var b strings.Builder
		for _, pair := range mixing.Find(m.Doc.Setup) {
			for _, way := range []string{mixing.OneStick, mixing.Levers, mixing.Both} {
				for _, rule := range []string{"", "scale"} {
					c := mixing.Choice{Way: way, Drive: "ahead", Turn: "side", Left: "lift", Right: "dial", DriveGain: 90, TurnGain: 60, LeverGain: 80, DriveSoft: 15, Rule: rule}
					if m.Name == "wrong" {
						c.Drive, c.Turn, c.Left, c.Right = "a", "trimmed", "k", "b"
					}
					fmt.Fprintf(&b, "%s and %s, %s, %q\n", pair.First, pair.Second, way, rule)
					tree, err := mixing.Write(m.Doc, pair.First, pair.Second, c)
					if err != nil {
						fmt.Fprintf(&b, "  %v\n", err)
						continue
					}
					doc, err := setup.FromTree(tree)
					require.NoError(t, err)
					for _, mix := range doc.Setup.Mixes {
						if string(mix.To) == pair.First || string(mix.To) == pair.Second {
							fmt.Fprintf(&b, "  %s from %s gain %v %s\n", mix.To, mix.From, mix.Gain, mix.Combine)
						}
					}
					for _, d := range doc.Setup.Demands[min(len(m.Doc.Setup.Demands), len(doc.Setup.Demands)):] {
						fmt.Fprintf(&b, "  feel %s from %s expo %v\n", d.ID, d.From, d.Expo)
					}
					for _, sh := range doc.Setup.Shares {
						fmt.Fprintf(&b, "  share %v %s\n", sh.Outputs, sh.Rule)
					}
					for _, again := range mixing.Find(doc.Setup) {
						if again.First == pair.First && again.Second == pair.Second {
							fmt.Fprintf(&b, "  %s\n", again.Words)
						}
					}
				}
			}
		}
		golden.Equal(t, m.Name+"_written", b.String())
	}
}
