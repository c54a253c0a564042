package signal

import (
	"bytes"
	"encoding/csv"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
)

func compileText(t testing.TB, text []byte) *Program {
	t.Helper()
	doc, err := setup.ReadJSON(text)
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

// compileYAML compiles a small setup; the head of the document is added.
func compileYAML(t testing.TB, text string) *Program {
	t.Helper()
	doc, err := setup.ReadYAML([]byte("format: axtren-setup\nversion: 1\n" + text))
	require.NoError(t, err)
	p, err := Compile(doc.Setup)
	require.NoError(t, err)
	return p
}

func trace(t testing.TB, p *Program, script string, seconds float64) ([][]string, error) {
	t.Helper()
	var out bytes.Buffer
	tr, err := NewTrace(&out, p)
	require.NoError(t, err)
	if err := p.Run(NewScript(strings.NewReader(script), p), seconds, tr.Frame); err != nil {
		return nil, err
	}
	require.NoError(t, tr.Close())
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	return rows, nil
}

func read(t testing.TB, parts ...string) string {
	text, err := os.ReadFile(filepath.Join(parts...))
	require.NoError(t, err)
	return string(text)
}

// TestWorkedExamples compares whole traces, cell by cell, with those of the
// worked examples, and the figures in their notes, which were worked out by
// hand.
func TestWorkedExamples(t *testing.T) {
	dirs, err := filepath.Glob("testdata/cases/*")
	require.NoError(t, err)
	require.Len(t, dirs, 15)
	for _, dir := range dirs {
		name := filepath.Base(dir)
		t.Run(name, func(t *testing.T) {
			p := compileText(t, []byte(read(t, dir, "setup.json")))
			seconds, err := strconv.ParseFloat(strings.TrimSpace(read(t, dir, "seconds.txt")), 64)
			require.NoError(t, err)
			got, err := trace(t, p, read(t, dir, "script.csv"), seconds)
			require.NoError(t, err)
			want, err := csv.NewReader(strings.NewReader(read(t, dir, "expected.csv"))).ReadAll()
			require.NoError(t, err)
			compare(t, want, got)
			compareNotes(t, read(t, dir, "notes.txt"), got)
		})
	}
}

func compare(t *testing.T, want, got [][]string) {
	require.Equal(t, want[0], got[0])
	require.Len(t, got, len(want))
	for i := 1; i < len(want); i++ {
		for j := range want[i] {
			require.True(t, sameCell(want[i][j], got[i][j]), "row %d, %s: want %s, got %s", i, want[0][j],
				want[i][j], got[i][j])
		}
	}
}

// sameCell allows one unit of the last decimal.
func sameCell(want, got string) bool {
	w, err1 := strconv.ParseFloat(want, 64)
	g, err2 := strconv.ParseFloat(got, 64)
	if err1 != nil || err2 != nil {
		return want == got
	}
	_, decimals, _ := strings.Cut(want, ".")
	return math.Abs(w-g) <= 1.001*math.Pow10(-len(decimals))
}

var noteFigure = regexp.MustCompile(`(\w[\w.]*)=(\S+)`)

func compareNotes(t *testing.T, notes string, got [][]string) {
	checked := 0
	for line := range strings.Lines(notes) {
		rest, ok := strings.CutPrefix(line, "CHECK ")
		if !ok {
			continue
		}
		rest, _, _ = strings.Cut(rest, "#")
		at, err := strconv.ParseFloat(strings.Fields(rest)[0], 64)
		require.NoError(t, err)
		for _, m := range noteFigure.FindAllStringSubmatch(rest, -1) {
			got, want := cellAt(t, got, at, m[1]), strings.Replace(m[2], "(none)", "", 1)
			if number, err := strconv.ParseFloat(want, 64); err == nil {
				v, err := strconv.ParseFloat(got, 64)
				require.NoError(t, err)
				require.InDelta(t, number, v, 6e-5, "%s at %g s", m[1], at)
			} else {
				require.Equal(t, want, got, "%s at %g s", m[1], at)
			}
			checked++
		}
	}
	require.Positive(t, checked)
}

func cellAt(t *testing.T, rows [][]string, at float64, column string) string {
	for j, name := range rows[0] {
		if name != column {
			continue
		}
		for _, row := range rows[1:] {
			if s, _ := strconv.ParseFloat(row[0], 64); math.Abs(s-at) < 1e-6 {
				return row[j]
			}
		}
	}
	t.Fatalf("no cell %s at %g s", column, at)
	return ""
}
