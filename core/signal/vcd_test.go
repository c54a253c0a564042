package signal

import (
	"bytes"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// readVCD is a reader of value change dumps written from the standard alone
// (IEEE 1364-2001, clause 18.2, memory): words between white space. It gives the
// value of every variable at every time in which something changed.
func readVCD(t *testing.T, text string) (times []int64, values []map[string]string) {
	words := strings.Fields(text)
	names, now := map[string]string{}, map[string]string{}
	end := func(i int) int {
		for words[i] != "$end" {
			i++
		}
		return i
	}
	i := 0
	for ; words[i] != "$enddefinitions"; i++ {
		switch words[i] {
		case "$var":
			require.Contains(t, []string{"real", "wire", "integer"}, words[i+1])
			require.NotContains(t, names, words[i+3], "an identifier stands once")
			names[words[i+3]] = words[i+4]
		case "$timescale":
			require.Equal(t, "1us", words[i+1])
		}
		i = end(i)
	}
	for i = end(i) + 1; i < len(words); i++ {
		w := words[i]
		switch w[0] {
		case '#':
			at, err := strconv.ParseInt(w[1:], 10, 64)
			require.NoError(t, err)
			require.True(t, len(times) == 0 || at > times[len(times)-1])
			times, values = append(times, at), append(values, map[string]string{})
		case 'r', 'b':
			i++
			now[names[words[i]]] = w[1:]
		default:
			now[names[w[1:]]] = w[:1]
		}
		for name, v := range now {
			values[len(values)-1][name] = v
		}
	}
	return times, values
}

func TestVCDSaysTheSameAsTheTrace(t *testing.T) {
	for _, name := range []string{"step_box", "stepper_readings", "toggle_and_cut", "transmitter_off_on"} {
		dir := filepath.Join("testdata/cases", name)
		p := compileText(t, []byte(read(t, dir, "setup.json")))
		var out bytes.Buffer
		vcd, err := NewVCD(&out, p)
		require.NoError(t, err)
		script := read(t, dir, "script.csv")
		require.NoError(t, p.Run(NewScript(strings.NewReader(script), p), 1, vcd.Frame))
		require.NoError(t, vcd.Close())
		rows, err := trace(t, p, script, 1)
		require.NoError(t, err)
		times, values := readVCD(t, out.String())
		at := -1
		for _, row := range rows[1:] {
			seconds, _ := strconv.ParseFloat(row[0], 64)
			for at+1 < len(times) && times[at+1] <= int64(seconds*1e6+0.5) {
				at++
			}
			for j, column := range rows[0][1:] {
				requireSame(t, p, column, row[j+1], values[at][strings.ReplaceAll(column, ".", "_")])
			}
		}
	}
}

func requireSame(t *testing.T, p *Program, column, cell, dumped string) {
	want, err := strconv.ParseFloat(cell, 64)
	switch got, dumpErr := strconv.ParseFloat(dumped, 64); {
	case cell == "":
		require.Contains(t, []string{"x", "0.00", "0.0000"}, dumped, column)
	case err == nil:
		require.NoError(t, dumpErr, column)
		require.Equal(t, want, got, column)
	default:
		step, err := strconv.ParseInt(dumped, 2, 64)
		require.NoError(t, err)
		require.Equal(t, cell, string(p.Setup().Steppers[0].Steps[step-1].Name))
	}
}
