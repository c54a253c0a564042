package core

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// allowed are the modules outside the standard library that a package of the
// core may import.
var allowed = map[string][]string{
	"axtren/core/setup": {"go.yaml.in/yaml/v3", "github.com/invopop/jsonschema",
		"github.com/go-json-experiment/json/jsontext"},
}

// banned are the parts of the standard library that reach outside: the core
// does no input or output, has no clock and no network.
var banned = []string{"os", "net", "time", "database/sql", "syscall", "log"}

// TestImportsRunOneWay holds the line cmd -> app -> core.
func TestImportsRunOneWay(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}{{range .Imports}} {{.}}{{end}}`,
		"./...").Output()
	require.NoError(t, err)
	packages := 0
	for line := range strings.Lines(string(out)) {
		fields := strings.Fields(line)
		packages++
		for _, imported := range fields[1:] {
			first, _, _ := strings.Cut(imported, "/")
			switch {
			case strings.HasPrefix(imported, "axtren/"):
				require.True(t, strings.HasPrefix(imported, "axtren/core/"), "%s imports %s", fields[0],
					imported)
			case strings.Contains(first, "."):
				require.Contains(t, append(allowed[fields[0]], "gonum.org/v1/gonum"), imported,
					"%s imports %s", fields[0], imported)
			default:
				for _, b := range banned {
					require.False(t, imported == b || strings.HasPrefix(imported, b+"/"), "%s imports %s",
						fields[0], imported)
				}
			}
		}
	}
	require.GreaterOrEqual(t, packages, 5)
}

// order is which packages of the core a package may import: none that stands above it.
var order = map[string][]string{
	"setup":    {},
	"logic":    {},
	"words":    {"setup"},
	"signal":   {"setup", "logic", "words"},
	"stage":    {"setup", "words", "signal", "linkage"},
	"travel":   {"setup", "words", "signal", "linkage"},
	"edit":     {"setup", "signal", "words"},
	"parts":    {"setup", "words", "signal"},
	"shelf":    {"setup", "words", "edit", "parts"},
	"starts":   {"setup"},
	"fill":     {"setup", "words"},
	"mixing":   {"setup", "words", "signal", "stage", "fill"},
	"behave":   {"setup", "words", "signal", "parts", "fill", "mixing"},
	"linkage":  {"setup", "words"},
	"lines":    {"setup", "words", "signal", "travel", "edit", "parts"},
	"feel":     {"setup", "words", "signal", "linkage", "travel", "mixing", "lines"},
	"sheet":    {"setup", "words", "signal", "travel", "behave", "translate"},
	"kit":      {"setup", "words", "signal", "travel", "edit", "translate"},
	"allot":    {},
	"plan":     {"setup", "words", "edit", "parts", "kit", "allot"},
	"diagnose": {"setup", "words", "signal", "stage", "travel"},
	"wiring":   {"setup", "words"},
	"codes":    {"setup", "words", "parts"},
	"check":    {"setup", "words", "signal", "stage", "kit", "wiring", "codes", "proof", "loss"},
	"trouble":  {"setup", "words", "signal"},
	"rail":     {"setup", "words", "signal", "mixing", "check", "plan", "behave", "loss"},
	"proof":    {"setup", "words", "signal"},
	"record":   {"setup", "words", "signal"},
	"same":     {"setup", "words", "signal", "proof"},
	"radio":    {"setup", "words"},
	"loss":     {"setup", "words", "signal", "proof", "travel"},

	"bench":     {"setup", "words", "signal", "proof", "diagnose", "travel", "sheet", "edit"},
	"translate": {"setup", "words", "signal", "proof"},
	"session":   {"setup", "signal", "stage", "lines", "edit", "rail", "record"},
}

// TestTheOrderInsideTheCore is the one that the page on the architecture tells.
func TestTheOrderInsideTheCore(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}{{range .Imports}} {{.}}{{end}}`,
		"./...").Output()
	require.NoError(t, err)
	seen := 0
	for line := range strings.Lines(string(out)) {
		fields := strings.Fields(line)
		name := strings.TrimPrefix(fields[0], "axtren/core/")
		if fields[0] == "axtren/core" {
			continue
		}
		allowed, listed := order[name]
		require.True(t, listed, "%s has no place in the order", name)
		seen++
		for _, imported := range fields[1:] {
			if own, ok := strings.CutPrefix(imported, "axtren/core/"); ok {
				require.Contains(t, allowed, own, "%s stands below %s", name, own)
			}
		}
	}
	require.Len(t, order, seen, "each package of the order is there")
}
