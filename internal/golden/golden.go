// Package golden holds what tests of the core compare whole answers against: models
// that between them use everything a setup can say, and the texts that were read and
// found right. A test that compares a whole list says what must be there, in which
// order, and what must not.
package golden

import (
	"bytes"
	_ "embed" // the models
	"encoding/json"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

var update = flag.Bool("update", false,
	"write what comes out now as what is right; read the difference before keeping it")

// everything uses each kind of part at least once.
//
//go:embed everything.yaml
var everything []byte

// wrong has something wrong or unusual at each of its lines.
//
//go:embed wrong.yaml
var wrong []byte

// Model is one of the models.
type Model struct {
	Name    string
	Doc     *setup.Document
	Program *signal.Program
}

// Changed gives the model that uses everything with some of its text replaced: old and
// new by turns.
func Changed(t testing.TB, oldNew ...string) Model {
	t.Helper()
	for i := 0; i < len(oldNew); i += 2 {
		require.Contains(t, string(everything), oldNew[i])
	}
	return model(t, "changed", []byte(strings.NewReplacer(oldNew...).Replace(string(everything))))
}

// Models gives the models of this package.
func Models(t testing.TB) []Model {
	t.Helper()
	return []Model{model(t, "everything", everything), model(t, "wrong", wrong)}
}

func model(t testing.TB, name string, text []byte) Model {
	t.Helper()
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err, name)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err, name)
	return Model{name, doc, p}
}

// Equal compares a text with testdata/name.txt of the package that is tested.
func Equal(t testing.TB, name, text string) {
	t.Helper()
	file := filepath.Join("testdata", name+".txt")
	if *update {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
	}
	want, err := os.ReadFile(file)
	require.NoError(t, err, "run the tests of this package with -update, and read what it writes")
	if string(want) == text {
		return
	}
	right, now := strings.Split(string(want), "\n"), strings.Split(text, "\n")
	for i := range max(len(right), len(now)) {
		if i >= len(right) || i >= len(now) || right[i] != now[i] {
			require.Equal(t, around(right, i), around(now, i),
				"%s, line %d; where this is right, run the tests of this package with -update", file, i+1)
		}
	}
}

// around gives a line with the one before it and three after it.
func around(lines []string, i int) []string {
	return lines[min(max(i-1, 0), len(lines)):min(i+4, len(lines))]
}

// Text writes a value as its JSON means it, a line for each place that says anything:
// what is empty, false or 0 is left out.
func Text(t testing.TB, v any) string {
	t.Helper()
	raw, err := json.Marshal(v)
	require.NoError(t, err)
	var b strings.Builder
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.UseNumber()
	write(t, dec, &b, "", "")
	return strings.TrimPrefix(b.String(), "\n")
}

// write takes one value from a decoder and writes it under its name; it tells whether
// there was anything to say.
func write(t testing.TB, dec *json.Decoder, b *strings.Builder, indent, name string) {
	t.Helper()
	token, err := dec.Token()
	require.NoError(t, err)
	if name != "" {
		name += ":"
	}
	open, isOpen := token.(json.Delim)
	if !isOpen {
		if text := fmt.Sprint(token); token != nil && text != "" && text != "false" && text != "0" {
			fmt.Fprintf(b, "%s%s %s\n", indent, name, strings.ReplaceAll(text, "\n", " / "))
		}
		return
	}
	var inner strings.Builder
	for dec.More() {
		key := "-"
		if open == '{' {
			token, err := dec.Token()
			require.NoError(t, err)
			key = token.(string)
		}
		write(t, dec, &inner, indent+"  ", key)
	}
	_, err = dec.Token()
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSuffix(inner.String(), "\n"), "\n")
	switch {
	case inner.Len() == 0 && name == "-:": // an element that says nothing keeps its place
		fmt.Fprintf(b, "%s%s\n", indent, name)
	case inner.Len() == 0:
	case flat(lines, indent): // short ones stand on one line
		for i := range lines {
			lines[i] = strings.TrimPrefix(strings.TrimSpace(lines[i]), "-: ")
		}
		fmt.Fprintf(b, "%s%s %s\n", indent, name, strings.Join(lines, "; "))
	default:
		fmt.Fprintf(b, "%s%s\n%s", indent, name, inner.String())
	}
}

// flat tells whether the lines of a value are all of its first level and short enough
// to stand on one.
func flat(lines []string, indent string) bool {
	length := 0
	for _, line := range lines {
		length += len(strings.TrimSpace(line)) + 2
		if strings.HasPrefix(line, indent+"    ") || strings.HasSuffix(line, ":") {
			return false
		}
	}
	return length < 200
}
