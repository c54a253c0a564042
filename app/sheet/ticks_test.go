package sheet

import (
	"bytes"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"axtren/core/sheet"
	"axtren/core/signal"
	"axtren/demo"
)

// TestTicksComeHome: whatever is ticked, its code is read back as it was; typed in
// small letters, without its hyphens, with O for 0 and l for 1.
func TestTicksComeHome(t *testing.T) {
	sh := build(t, func(s string) string { return s })
	n := len(Things(sh))
	rapid.Check(t, func(rt *rapid.T) {
		want := &Ticks{Revision: rapid.IntRange(1, 100000).Draw(rt, "revision"), Ticked: make([][]bool, 3)}
		want.Since = rapid.IntRange(0, want.Revision).Draw(rt, "since")
		for c := range want.Ticked {
			want.Ticked[c] = rapid.SliceOfN(rapid.Bool(), n, n).Draw(rt, "ticked")
		}
		code := Code(want, Mark("model", Things(sh)))
		for _, typed := range []string{code, strings.ToLower(code), strings.ReplaceAll(code, "-", ""),
			strings.NewReplacer("0", "O", "1", "l", "-", " ").Replace(code)} {
			got, err := Read(typed, "model", Things(sh))
			require.NoError(rt, err, typed)
			require.Equal(rt, want, got)
		}
		_, err := Read(code, "another", Things(sh))
		require.ErrorContains(rt, err, "of another sheet")
	})
}

// TestAMistypedCodeIsRefused: one wrong letter is always found.
func TestAMistypedCodeIsRefused(t *testing.T) {
	sh := build(t, func(s string) string { return s })
	ticks := &Ticks{Revision: 12}
	for c := range ticks.Ticked {
		ticks.Ticked[c] = make([]bool, len(Things(sh)))
		for i := range ticks.Ticked[c] {
			ticks.Ticked[c][i] = true
		}
	}
	code := Code(ticks, Mark("model", Things(sh)))
	require.Less(t, len(code), 30, "a sheet that is ticked throughout is soon typed: %s", code)
	for i := range code {
		for _, other := range "0123456789ABCDEFGHJKMNPQRSTVWXYZ" {
			if code[i] == '-' || rune(code[i]) == other {
				continue
			}
			_, err := Read(code[:i]+string(other)+code[i+1:], "model", Things(sh))
			require.Error(t, err)
		}
	}
	for _, bad := range []string{"", "hello", code[:9], code + "AB", strings.Repeat("A", 3000)} {
		_, err := Read(bad, "model", Things(sh))
		require.Error(t, err, bad)
		_, own := IsTickError(err)
		require.True(t, own)
	}
}

func TestWhatIsOpenIsSaid(t *testing.T) {
	sh := build(t, func(s string) string { return s })
	n := len(Things(sh))
	ticks := &Ticks{Revision: 1, Ticked: [][]bool{make([]bool, n), make([]bool, n), make([]bool, n)}}
	for i := range n {
		ticks.Ticked[Keyed][i] = true
	}
	require.Equal(t, n, ticks.Count(Keyed))
	open := ticks.Open(Things(sh))
	require.Len(t, open, n)
	require.Equal(t, "Memory, memory: not read back, not seen", open[0])
}

// TestPDFIsReadBack lets another program (pdftotext, of poppler) read both papers.
func TestPDFIsReadBack(t *testing.T) {
	pdftotext, err := exec.LookPath("pdftotext")
	require.NoError(t, err, "install Debian's package poppler-utils")
	sh := build(t, func(s string) string { return s })
	for paper, size := range map[string]string{"A4": "(A4)", "A6": "(A6)"} {
		var b bytes.Buffer
		require.NoError(t, PDF(&b, sh, paper, 7))
		path := filepath.Join(t.TempDir(), "sheet.pdf")
		require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
		out, err := exec.Command(pdftotext, "-layout", path, "-").Output()
		require.NoError(t, err)
		text := strings.Join(strings.Fields(string(out)), " ")
		for _, want := range []string{"Stoat, what to key in", "Local rules and licensed practice come first",
			"tracks clear of the ground", "Right track, stick forward", "1020", "revision 7, page 1 of",
			"What the display must show"} {
			if paper == "A6" {
				want = strings.TrimSuffix(want, ", stick forward") // it may go over to the next line
			}
			require.Contains(t, text, want, paper)
		}
		for _, sec := range sh.Sections {
			require.Contains(t, text, sec.Title, paper)
			for _, it := range sec.Items {
				if it.US != "" {
					require.Contains(t, text, it.US)
				}
			}
		}
		info, err := exec.Command("pdfinfo", path).Output()
		require.NoError(t, err)
		require.Contains(t, string(info), size)
	}
	require.Error(t, PDF(&bytes.Buffer{}, sh, "A3", 1))
}

// TestLabelsOfOtherAlphabetsStandOnPaper: none is lost.
func TestLabelsOfOtherAlphabetsStandOnPaper(t *testing.T) {
	labels := []string{"Żuraw łódź", "Лебёдка", "Βαρούλκο", "Größe \U0001F69C"}
	sh := build(t, func(s string) string {
		for i, old := range []string{"label: Left track,", "label: Blade lift,", "label: Horn,",
			"label: Winch,"} {
			s = strings.Replace(s, old, "label: "+labels[i]+",", 1)
		}
		return s
	})
	for _, paper := range []string{"A4", "A6"} {
		var b bytes.Buffer
		require.NoError(t, PDF(&b, sh, paper, 1))
		path := filepath.Join(t.TempDir(), "sheet.pdf")
		require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
		out, err := exec.Command("pdftotext", "-layout", path, "-").Output()
		require.NoError(t, err)
		for _, label := range labels {
			require.Contains(t, strings.Join(strings.Fields(string(out)), " "),
				strings.ReplaceAll(label, "\U0001F69C", "?"))
		}
	}
}

// TestWhatCannotBeSetIsSaid: letters that the font has not, and those of scripts that are
// written from the right, with the lines that they are on; every letter that is set is
// in the font.
func TestWhatCannotBeSetIsSaid(t *testing.T) {
	for label, want := range map[string]struct {
		lost []string
		set  string
	}{
		"Left track":      {nil, "Left track"},
		"Größe ﬁn":        {nil, "Größe"},
		"Е\u0308лка":      {nil, "Ёлка"}, // composed before it is set
		"港 left":          {[]string{"U+6E2F"}, "? left"},
		"עוגן":            {[]string{"U+05E2", "U+05D5", "U+05D2", "U+05DF"}, "????"},
		"محرك":            {[]string{"U+0645"}, "????"},
		"Boat \U0001F6A2": {[]string{"U+1F6A2"}, "Boat ?"},
		"Żuraw 港":         {[]string{"U+6E2F"}, "Żuraw ?"},
	} {
		sh := build(t, func(s string) string {
			return strings.Replace(s, "label: Left track,",
				"label: \""+label+"\",", 1)
		})
		var b bytes.Buffer
		require.NoError(t, PDF(&b, sh, "A4", 1))
		path := filepath.Join(t.TempDir(), "sheet.pdf")
		require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
		out, err := exec.Command("pdftotext", "-layout", path, "-").Output()
		require.NoError(t, err)
		text := strings.Join(strings.Fields(string(out)), " ")
		require.Contains(t, text, want.set, label)
		for _, number := range want.lost {
			require.Contains(t, text, number, label)
		}
		require.Equal(t, want.lost != nil, strings.Contains(text, "Some letters cannot be set on paper here"),
			label)
		if want.lost != nil {
			require.Contains(t, text, "Channels, line 1, channel 1", label)
			require.NotContains(t, text, "Channels, line 2,", label)
		}
		_, letters := faceFor(texts(sh))
		for _, r := range text {
			require.True(t, r == ' ' || letters.has(r), "%q of %s is printed as a box", r, label)
		}
	}
	require.True(t, narrowFace.has()('ß') && !narrowFace.has()('Л') && wideFace.has()('Л') &&
		!wideFace.has()('港'), "the fonts are read")
}

// TestTheCarriedFileIsSmallAndWhole: under 400 kB, nothing in it is fetched, and no
// label breaks out of it.
func TestTheCarriedFileIsSmallAndWhole(t *testing.T) {
	sh := build(t, func(s string) string {
		return strings.Replace(s, "label: Left track,", `label: "</script><b>x",`, 1)
	})
	var b bytes.Buffer
	require.NoError(t, Carry(&b, sh, fitted(t, `label: "</script><i>y"`), "model", 3))
	require.Less(t, b.Len(), 400_000)
	text := b.String()
	require.False(t, strings.Contains(text, "</script><b>x"))
	require.False(t, strings.Contains(text, "</script><i>y"))
	require.Equal(t, 3, strings.Count(text, "</script>"))
	for _, fetch := range []string{"src=", "@import", "url(", "fetch(", "XMLHttpRequest", "http:", "https:"} {
		require.NotContains(t, carryScript+carryStyle, fetch)
	}
}

// TestSheetsOfAnyLengthGoOnPaper: long words and many things start new pages.
func TestSheetsOfAnyLengthGoOnPaper(t *testing.T) {
	sh := &sheet.Sheet{Name: strings.Repeat("long ", 40), Defer: "x"}
	sec := sheet.Section{Title: "Things", Caution: strings.Repeat("careful ", 60)}
	for range 120 {
		sec.Items = append(sec.Items, sheet.Item{Channel: 3, What: strings.Repeat("wide ", 30),
			Value: "go to −100", US: "1000", Note: strings.Repeat("n", 90)})
	}
	sh.Sections = append(sh.Sections, sec)
	for _, paper := range []string{"A4", "A6"} {
		require.NoError(t, PDF(&bytes.Buffer{}, sh, paper, 1))
	}
}

// TestAFreshSheetFitsTwoPages: that of every model of the demo, on A4.
func TestAFreshSheetFitsTwoPages(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		p, err := signal.Compile(m.Doc.Setup)
		require.NoError(t, err)
		var b bytes.Buffer
		require.NoError(t, PDF(&b, sheet.Build(p).Fresh(), "A4", 1))
		path := filepath.Join(t.TempDir(), "sheet.pdf")
		require.NoError(t, os.WriteFile(path, b.Bytes(), 0o600))
		out, err := exec.Command("pdftotext", "-layout", path, "-").Output()
		require.NoError(t, err)
		require.Contains(t, string(out), "page 2 of 2", m.Doc.Setup.Name)
		require.Contains(t, string(out), "all other", m.Doc.Setup.Name)
	}
	require.Error(t, PDF(io.Discard, &sheet.Sheet{}, "A4 short", 1), "that is no paper")
}
