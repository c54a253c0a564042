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
	"axtren/core/setup": {"go.yaml.in/yaml/v3", "github.com/invopop/jsonschema"},
}

// banned are the parts of the standard library that reach outside: the core
// does no input or output, has no clock and no network.
var banned = []string{"os", "net", "time", "database/sql", "syscall", "log"}

// TestImportsRunOneWay holds the line cmd -> app -> core.
func TestImportsRunOneWay(t *testing.T) {
	out, err := exec.Command("go", "list", "-f", `{{.ImportPath}}{{range .Imports}} {{.}}{{end}}`, "./...").Output()
	require.NoError(t, err)
	packages := 0
	for line := range strings.Lines(string(out)) {
		fields := strings.Fields(line)
		packages++
		for _, imported := range fields[1:] {
			first, _, _ := strings.Cut(imported, "/")
			switch {
			case strings.HasPrefix(imported, "axtren/"):
				require.True(t, strings.HasPrefix(imported, "axtren/core/"), "%s imports %s", fields[0], imported)
			case strings.Contains(first, "."):
				require.Contains(t, append(allowed[fields[0]], "gonum.org/v1/gonum"), imported, "%s imports %s", fields[0], imported)
			default:
				for _, b := range banned {
					require.False(t, imported == b || strings.HasPrefix(imported, b+"/"), "%s imports %s", fields[0], imported)
				}
			}
		}
	}
	require.GreaterOrEqual(t, packages, 5)
	order, err := exec.Command("go", "list", "-f", `{{range .Imports}}{{.}} {{end}}`, "./setup").Output()
	require.NoError(t, err)
	require.NotContains(t, string(order), "axtren/", "setup stands at the bottom")
}
