package live

import (
	"encoding/json"
	"fmt"
	"runtime"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/setup"
)

// heap is what is in use, in bytes, once all that is not has been given back.
func heap() int64 {
	runtime.GC()
	runtime.GC()
	var m runtime.MemStats
	runtime.ReadMemStats(&m)
	return int64(m.HeapAlloc)
}

// TestANightAtTheBench turns the clock of a bench by 100 000 frames, hands moving
// all the time and an edit tried now and then: its memory does not grow.
func TestANightAtTheBench(t *testing.T) {
	doc, err := setup.FromTree(docOf(t).Tree)
	require.NoError(t, err)
	head := &store.Head{Revision: store.Revision{Number: 1}, Doc: doc}
	b := &bench{box: newInbox()}
	joint := "out/port_track/pulse"
	b.box.putMessage(&contract.Asked{T: contract.ToHello})
	b.box.putMessage(&contract.Asked{T: contract.ToWatch, Joint: &joint})
	first, ok := b.awaitHello(t.Context(), head)
	require.True(t, ok)
	b.frame(first)
	var n int64
	turn := func(frames int) {
		for range frames {
			n++
			set := map[string]any{"drive": float64(n%200 - 100), "turn": float64(n % 100)}
			k := n
			b.box.putMessage(&contract.Asked{T: contract.ToHands, N: &k, Set: &set})
			if n%500 == 0 {
				patch := contract.Patch(fmt.Appendf(nil,
					`[{"op":"test","path":"/outputs/0/id","value":"port_track"},{"op":"add","path":"/outputs/0/high","value":%d}]`, 50+n/500%40))
				b.box.putMessage(&contract.Asked{T: contract.ToTry, Id: &k, Patch: &patch})
			}
			b.frame(b.box.take())
			for msg, sent := b.next(); msg != nil; msg, sent = b.next() {
				sent()
			}
		}
	}
	turn(40000) // by now what the last ten minutes keep is full
	before := heap()
	turn(60000)
	grown := heap() - before
	t.Logf("100 000 frames; the last 60 000 changed the heap by %d kB", grown/1024)
	require.Less(t, grown, int64(1<<20))
}

// TestAFrameIsWrittenAsJSONWritesIt holds the text that is written by hand against
// the library's.
func TestAFrameIsWrittenAsJSONWritesIt(t *testing.T) {
	n, k := int64(7), int64(1<<40)
	for _, c := range []struct {
		at    []int
		v     []float64
		waits []int
	}{{[]int{}, []float64{}, []int{}}, {[]int{0, 12}, []float64{-0.0001, 1652.5}, []int{1, 2}},
		{[]int{3}, []float64{1e6}, []int{0}}} {
		msg := &contract.Told{T: contract.FromFrame, N: &n, K: &k, At: &c.at, V: &c.v, Waits: &c.waits}
		ours, err := encode(msg)
		require.NoError(t, err)
		library, err := json.Marshal(msg)
		require.NoError(t, err)
		require.JSONEq(t, string(library), string(ours))
	}
}
