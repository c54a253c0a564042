package signal

import (
	"fmt"
	"io"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"
)

// rows makes a script of n rows as it is read, 50 rows a millisecond.
type rows struct {
	n, made int
	rest    []byte
}

func (r *rows) Read(b []byte) (int, error) {
	for len(r.rest) < len(b) && r.made <= r.n {
		if r.made == 0 {
			r.rest = append(r.rest, "t_s,control,value\n"...)
		} else {
			r.rest = fmt.Appendf(r.rest, "%.5f,drive,%d\n", float64(r.made)/50000, r.made%201-100)
		}
		r.made++
	}
	if len(r.rest) == 0 {
		return 0, io.EOF
	}
	n := copy(b, r.rest)
	r.rest = r.rest[:copy(r.rest, r.rest[n:])]
	return n, nil
}

// TestTenMillionRowsStream: a script is never held whole.
func TestTenMillionRowsStream(t *testing.T) {
	if testing.Short() {
		t.Skip("takes some seconds")
	}
	p := compileYAML(t, tracked)
	var before, now runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	frames, most := 0, uint64(0)
	require.NoError(t, p.Run(NewScript(&rows{n: 10_000_000}, p), -1, func(float64, *State) error {
		if frames++; frames%1000 == 0 {
			runtime.ReadMemStats(&now)
			most = max(most, now.HeapInuse)
		}
		return nil
	}))
	require.Equal(t, 10101, frames, "200 s of rows and 2 s more, at 20 ms")
	require.Less(t, most, before.HeapInuse+32<<20)
}
