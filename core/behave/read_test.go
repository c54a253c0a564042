package behave_test

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
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

func TestMain(m *testing.M) {
	flag.Parse()
	if checks := flag.Lookup("rapid.checks"); checks.Value.String() == checks.DefValue {
		_ = checks.Value.Set("25") // each writes some twenty documents
	}
	os.Exit(m.Run())
}
