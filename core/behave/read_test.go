package behave_test

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/behave"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

// model is a document with its program.
type model struct {
	name string
	doc  *setup.Document
	p    *signal.Program
}

// everyModel gives the models of the demo, the worked examples, and those that use everything.
func everyModel(t testing.TB) []model {
	var list []model
	add := func(name string, doc *setup.Document) {
		p, err := signal.Compile(doc.Setup)
		require.NoError(t, err, name)
		list = append(list, model{name, doc, p})
	}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		add(m.Doc.Setup.Name, m.Doc)
	}
	files, err := filepath.Glob("../signal/testdata/cases/*/setup.json")
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(files), 15)
	for _, file := range files {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		doc, err := setup.ReadJSON(text)
		require.NoError(t, err, file)
		add(filepath.Base(filepath.Dir(file)), doc)
	}
	for _, m := range golden.Models(t) {
		list = append(list, model{m.Name, m.Doc, m.Program})
	}
	return list
}

// TestEveryRuleIsASentence: every block, stepper, sequence, pattern and announcement of every model is in
// exactly one sentence; no sentence has a name of the document in it.
func TestEveryRuleIsASentence(t *testing.T) {
	var b strings.Builder
	for _, m := range everyModel(t) {
		in := map[string]string{}
		rules := behave.Read(m.doc.Setup, m.p)
		fmt.Fprintf(&b, "%s\n", m.name)
		for _, r := range rules {
			said := r.Sentence()
			require.NotRegexp(t, `[a-z]_[a-z]|%!|  | ,`, said, m.name)
			require.True(t, strings.HasSuffix(said, "."), said)
			fmt.Fprintf(&b, "  %s %s | %s", r.Kind, r.Key, said)
			if len(r.Moves) > 0 {
				fmt.Fprintf(&b, " → %s", strings.Join(r.Moves, ", "))
			}
			if len(r.Parts) > 1 {
				var parts []string
				for _, part := range r.Parts[1:] {
					parts = append(parts, part.Key)
				}
				fmt.Fprintf(&b, " (with %s)", strings.Join(parts, " "))
			}
			b.WriteString("\n")
			for _, part := range r.Parts {
				require.Empty(t, in[part.Key], "%s: %s is in two sentences", m.name, part.Key)
				in[part.Key] = r.Key
			}
		}
		s := m.doc.Setup
		for kind, n := range map[setup.ItemKind]int{setup.IsBlock: len(s.Logic), setup.IsStepper: len(s.Steppers),
			setup.IsSequence: len(s.Sequences), setup.IsPattern: len(s.Patterns),
			setup.IsAnnouncement: len(s.Announcements)} {
			for i := range n {
				key := setup.ListOf(kind) + "/" + string(s.Key(kind.At(i)).ID)
				require.NotEmpty(t, in[key], "%s: %s is in no sentence", m.name, key)
			}
		}
	}
	golden.Equal(t, "sentences", b.String())
}

// TestUsualFlashes keeps to what is published of them. Direction indicators flash 90 times a minute, give
// or take 30:
// UN Regulation 6 (from memory). A flashing light of a vessel flashes 120 times a minute or more:
// International
// Regulations for Preventing Collisions at Sea, 1972, rule 21 (from memory). What may be taken for a
// signal says so.
func TestUsualFlashes(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	perMinute := map[string]float64{}
	for _, c := range behave.Lists(yard[0].Doc.Setup)["beats"] {
		total := 0.0
		lit := 0
		for i := 0; i < len(c.Usual); i += 2 {
			seconds, err := strconv.ParseFloat(c.Usual[i+1], 64)
			require.NoError(t, err)
			require.Greater(t, seconds, 0.0)
			total += seconds
			if c.Usual[i] == "100" {
				lit++
			}
		}
		require.NotZero(t, lit)
		perMinute[c.Value] = 60 * float64(lit) / total
		signal := strings.Contains(c.Label, "vessel") || strings.Contains(c.Label, "light") ||
			strings.Contains(c.Label, "double") || strings.Contains(c.Label, "triple")
		require.Equal(t, signal, c.Says != "", c.Label)
	}
	require.Len(t, perMinute, 8)
	require.InDelta(t, 90, perMinute["indicator"], 30)
	require.GreaterOrEqual(t, perMinute["vessel"], 120.0)
	require.InDelta(t, 120, perMinute["beacon"], 1)
}

func TestMain(m *testing.M) {
	flag.Parse()
	if checks := flag.Lookup("rapid.checks"); checks.Value.String() == checks.DefValue {
		_ = checks.Value.Set("25") // each writes some twenty documents
	}
	os.Exit(m.Run())
}

// TestWholeRules compares what a page is given, the kinds that can be written and the rules of the models
// that
// use everything, with what was read and found right.
func TestWholeRules(t *testing.T) {
	var b strings.Builder
	for _, m := range golden.Models(t) {
		fmt.Fprintf(&b, "%s\n%s\n", m.Name, golden.Text(t, behave.Read(m.Doc.Setup, m.Program)))
		fmt.Fprintf(&b, "boxes\n%s\n", golden.Text(t, behave.Boxes(m.Doc)))
	}
	doc, p := benchDoc(t)
	fmt.Fprintf(&b, "kinds\n%s\n", golden.Text(t, behave.Kinds(doc.Setup, p)))
	golden.Equal(t, "rules", b.String())
}
