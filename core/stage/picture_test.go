package stage_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/stage"
	"axtren/core/starts"
	"axtren/demo"
)

// shown are the pictures of every model of the demo and of every fresh start, by name.
func shown(t *testing.T) map[string]*stage.Picture {
	t.Helper()
	all := map[string]*stage.Picture{}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		all[m.Doc.Setup.Name] = of(t, m.Doc).pic
	}
	for _, k := range starts.Kinds() {
		doc, err := starts.Start(k.Kind)
		require.NoError(t, err)
		all["new "+k.Kind] = of(t, doc).pic
	}
	return all
}

// TestEachCraftLooksLikeItself: the first hull of each is drawn as its kind of craft is.
func TestEachCraftLooksLikeItself(t *testing.T) {
	all := shown(t)
	for name, want := range map[string][2]string{
		"Marram": {"above", "boat"}, "Stoat": {"above", "tracked"}, "Alder": {"above", "truck"},
		"Pipit": {"above", "car"}, "Gannet": {"side", "portal"}, "Wader": {"side", "amphibian"},
		"new boat": {"above", "boat"}, "new tracked": {"above", "tracked"}, "new car": {"above", "car"},
		"new truck": {"above", "truck"}, "new construction": {"side", "tracks"},
		"new submarine": {"side", "submarine"}, "new amphibian": {"side", "amphibian"},
	} {
		require.Equal(t, want[0], all[name].View, name)
		require.Equal(t, "hull", all[name].Parts[0].Part, name)
		require.Equal(t, want[1], all[name].Parts[0].Shape, name)
	}
	s := read(t, `
name: Two
craft: {kind: boat}
stage: {parts: [{part: hull, label: A}, {part: hull, label: B}, {part: hull, label: C, shape: house}]}
`)
	require.Equal(t, []string{"boat", "plain", "house"},
		[]string{s.pic.Parts[0].Shape, s.pic.Parts[1].Shape, s.pic.Parts[2].Shape})
	require.Empty(t, all["Marram"].Parts[3].Shape, "a part that is no hull has none")
}

// TestPartsStandBesideEachOther: what lies on a hull does not lie on something else that does.
func TestPartsStandBesideEachOther(t *testing.T) {
	small := map[string]bool{"lamp": true, "horn": true, "screw": true, "drum": true, "pump": true,
		"wheel": true, "dial": true, "turret": true, "monitor": true}
	for name, pic := range shown(t) {
		for i, a := range pic.Parts {
			for _, b := range pic.Parts[:i] {
				if a.Row || b.Row || a.On != b.On || !small[a.Part] || !small[b.Part] {
					continue
				}
				apart := math.Abs(a.Ahead-b.Ahead) >= (a.Length+b.Length)/2-1 ||
					math.Abs(a.Side-b.Side) >= (a.Width+b.Width)/2-1
				require.True(t, apart, "%s: %s lies on %s", name, a.Label, b.Label)
			}
		}
	}
}

// TestAModelFillsItsFrame: from above its length is two thirds of what is shown; from the side
// no part leaves the frame, wherever it stands.
func TestAModelFillsItsFrame(t *testing.T) {
	pics := shown(t)
	require.Equal(t, 1.5*660, pics["Marram"].Span, "310 mm to the bow, 330 to the end of the rudder")
	require.Empty(t, pics["Marram"].Box)
	s := read(t, `
name: Boom
craft: {kind: construction}
stage: {parts: [{part: hull, at_mm: [0, 0], size_mm: [100, 40]},
  {part: boom, name: boom, from: -30, to: 90, at_mm: [50, 20], size_mm: [200, 20]},
  {part: bucket, on: boom, from: -90, to: 0, at_mm: [200, 0], size_mm: [60, 30]}]}
`)
	box := s.pic.Box
	require.Equal(t, -50.0, box[0], "the hull's stern is the last")
	require.InDelta(t, 20+260, box[3], 1, "boom and bucket upright")
	require.Less(t, box[1], -100.0, "boom at -30 with the bucket hanging from its end")
	require.Greater(t, box[2], 250.0, "boom level")
	s = read(t, `
name: Mast and leg
craft: {kind: construction}
stage: {parts: [{part: hull, at_mm: [0, 0], size_mm: [100, 40]},
  {part: mast, from: 0, to: 60, at_mm: [10, 20], size_mm: [90, 12]},
  {part: leg, from: 0, to: 30, at_mm: [-30, -20], size_mm: [80, 20]}]}
`)
	require.Equal(t, []float64{-50, -20 - 80 - 30, 50, 20 + 90 + 60}, s.pic.Box,
		"a mast stands up and a leg hangs down, each as far as it goes")
}
