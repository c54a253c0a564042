package sheet

import (
	"bytes"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/bench"
	"axtren/core/setup"
)

// steps are two made-up steps of a walk.
func steps() []bench.Step {
	return []bench.Step{{When: bench.There, Does: []string{"Stick: ahead, all the way.", "Press the button."},
		Rest: "All else stays as it was.",
		Parts: []bench.Part{{Of: "devices/port", Label: "Port screw", Should: "turns ahead, full", Channel: 2,
			Display: "+94"},
			{Of: "devices/lamp", Label: "Lamp", Should: "is on"}}},
		{When: bench.Off, Does: []string{"Switch the model off."}, Parts: []bench.Part{},
			Rest: "Nothing moves, and nothing is on."}}
}

// printed gives what another program (pdftotext, of poppler) reads on paper.
func printed(t *testing.T, write func(*bytes.Buffer) error) string {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, write(&b))
	path := filepath.Join(t.TempDir(), "paper.pdf")
	require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
	out, err := exec.Command("pdftotext", "-layout", path, "-").Output()
	require.NoError(t, err, "install Debian's package poppler-utils")
	return strings.Join(strings.Fields(string(out)), " ")
}

// TestAWalkOnPaper has what has to be safe first, then every step and every part of it, large and small.
func TestAWalkOnPaper(t *testing.T) {
	w := &WalkSheet{Name: "Tug", Walk: "w", Revision: 7, Safe: []string{"Take the propellers off."},
		Taught: []string{"Port controller must have learned what is sent."}, Steps: steps()}
	for _, paper := range []string{"A4", "A6"} {
		text := printed(t, func(b *bytes.Buffer) error { return w.PDF(b, paper) })
		at := -1
		for _, want := range []string{"Tug, tried on the bench", "First, make it safe", "Take the propellers off.",
			"Port controller must have learned", "1. Stick: ahead, all the way. Press the button.",
			"Port screw: turns ahead, full; channel 2 reads +94.",
			"Lamp: is on.", "All else stays as it was.", "2. Switch the model off.",
			"Nothing moves, and nothing is on.",
			"with which battery"} {
			next := strings.Index(text, want)
			require.Greater(t, next, at, "%s: %q in %q", paper, want, text)
			at = next
		}
		require.Contains(t, text, "revision 7, page 1 of")
	}
	require.ErrorContains(t, w.PDF(&bytes.Buffer{}, "A5"), "only A4 and A6")
	w.Signed = "Signed by a founder."
	text := printed(t, func(b *bytes.Buffer) error { return w.PDF(b, "A4") })
	require.Contains(t, text, "Signed by a founder.")
	require.NotContains(t, text, "with which battery")
}

// TestACarriedWalkIsWhole: the page needs nothing but itself, and what it is given cannot end its script.
func TestACarriedWalkIsWhole(t *testing.T) {
	w := &WalkSheet{Name: "Tug </script><b>", Walk: "w", Revision: 7, Safe: []string{}, Taught: []string{},
		Steps: steps()}
	var b bytes.Buffer
	require.NoError(t, w.Carry(&b))
	page := b.String()
	require.NotContains(t, page, "</script><b>")
	require.Contains(t, page, "default-src 'none'")
	_, rest, ok := strings.Cut(page, `id="given">`)
	require.True(t, ok)
	data, _, _ := strings.Cut(rest, "</script>")
	var given WalkSheet
	require.NoError(t, json.Unmarshal([]byte(data), &given))
	require.Equal(t, w.Name, given.Name)
	require.Equal(t, w.Steps, given.Steps)
	things := WalkThings(given.Steps)
	require.Equal(t, Mark("w", things), given.Mark)
	require.Equal(t, []Thing{{"0/devices/port", "step 1, Port screw"}, {"0/devices/lamp", "step 1, Lamp"},
		{"0/rest", "step 1, all else"},
		{"1/rest", "step 2, all else"}}, things)
}

// TestTheBookHasItAll: what to key in, what goes where, how it was tried, what happened, the document.
func TestTheBookHasItAll(t *testing.T) {
	ft := fitted(t, "label: lamp")
	doc, err := setup.ReadYAML([]byte(strings.Replace(crane, "LABEL", "label: lamp", 1)))
	require.NoError(t, err)
	book := Book{Sheet: build(t, func(s string) string { return s }), Fitted: ft, Revision: 9,
		Text:   string(doc.Tree.YAML()),
		Walk:   &WalkSheet{Name: "Crane", Walk: "w", Revision: 9, Steps: steps(), Signed: "Signed by a founder."},
		Totals: []string{"2 h of running in all, 2 times."}, Values: []string{"Hoist: timing, 12"}}
	for n := range mostInBook + 1 {
		book.Log = append(book.Log, LogRow{At: time.Date(2026, 11, 3, 9, 5, 0, 0, time.UTC), Revision: n + 1,
			Kind: "note",
			Head: "Note", More: []string{"more of it"}})
	}
	text := printed(t, func(b *bytes.Buffer) error { return book.PDF(b) })
	at := -1
	for _, want := range []string{"What to key in", "Memory", "What goes where", "How it was tried",
		"Signed by a founder.",
		"1. Stick: ahead", "What happened", "2 h of running in all, 2 times.", "Set with programs of their own",
		"Hoist: timing, 12",
		"The newest 2000 of 2001", "3 Nov 2026 2 Note more of it", "3 Nov 2026 2001 Note", "The document",
		"format: axtren-setup"} {
		next := strings.Index(text[at+1:], want)
		require.GreaterOrEqual(t, next, 0, want)
		at += next + 1
	}
}
