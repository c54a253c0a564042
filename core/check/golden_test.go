package check

import (
	"testing"

	"axtren/internal/golden"
)

// TestWholeReports: all that is found in a model, in its order, and what of it the
// yard says.
func TestWholeReports(t *testing.T) {
	for _, m := range golden.Models(t) {
		golden.Equal(t, m.Name, golden.Text(t, Check(m.Program))+"before the water\n"+golden.Text(t,
			Readiness(m.Program)))
	}
}
