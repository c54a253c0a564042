package live

import (
	"encoding/json"
	"fmt"
	"reflect"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/lines"
	"axtren/core/setup"
)

// full is a bench of a made-up model with as many outputs as there can be, each driven by two
// levers and with a servo on its pin, its page told all that is on it.
func full(t testing.TB) *bench {
	var b strings.Builder
	b.WriteString("format: axtren-setup\nversion: 1\nname: Full\ntransmitter:\n  controls:\n")
	for i := range 20 {
		fmt.Fprintf(&b, "    - {id: s%d, kind: axis, label: Lever %d}\n", i, i)
	}
	b.WriteString("mixes:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "  - {id: m%d, to: o%d, from: s%d}\n  - {id: n%d, to: o%d, from: s%d, gain: 30}\n", i, i,
			i%20, i, i, (i+7)%20)
	}
	b.WriteString("outputs:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "  - {id: o%d, label: Function %d, channel: %d}\n", i, i, i+1)
	}
	b.WriteString("receivers:\n  - id: rx\n    pins:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "      - {pin: %d, channel: %d}\n", i+1, i+1)
	}
	b.WriteString("devices:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "  - {id: d%d, on: rx.%d, kind: servo}\n", i, i+1)
	}
	doc, err := setup.ReadYAML([]byte(b.String()))
	require.NoError(t, err)
	own := &bench{box: newInbox()}
	own.box.putMessage(&contract.Asked{T: contract.ToHello, Set: &map[string]any{}})
	first, ok := own.awaitHello(t.Context(), &store.Head{Revision: store.Revision{Number: 1}, Doc: doc})
	require.True(t, ok)
	own.frame(first)
	require.Equal(t, contract.FromWhole, own.told(1)[0].T)
	return own
}

// tries drags the low end of an output to a value, and gives what the page is told of it.
func (b *bench) tries(id int64, low float64) *contract.Told {
	at, field := "out/o3/ends", "low"
	b.box.putMessage(&contract.Asked{T: contract.ToTry, Id: &id, Part: &at, Field: &field, Value: low})
	b.frame(b.box.take())
	msg, sent := b.next()
	sent()
	return msg
}

// TestATrialTellsWhatChanged, a few kilobytes of it, and nothing else; made of what was told
// before, it is the whole view of what runs.
func TestATrialTellsWhatChanged(t *testing.T) {
	b := full(t)
	was := b.session.View()
	for id, low := range []float64{-50, -51.5, -99, -100} {
		msg := b.tries(int64(id+1), low)
		require.Equal(t, contract.FromChanged, msg.T)
		require.Equal(t, int64(id+1), *msg.Trying)
		text, err := encode(msg)
		require.NoError(t, err)
		require.Less(t, len(text), 5000, "%s", text)
		require.Nil(t, msg.Model)
		require.Nil(t, msg.Rail)
		require.Nil(t, msg.Stage)
		require.Len(t, msg.Changed.Lines, 1)
		require.Empty(t, msg.Changed.Blocks)
		require.Len(t, msg.Changed.Joints, 1)
		require.Len(t, msg.Changed.Joints[3], 1)
		require.Empty(t, msg.Changed.Controls)
		require.Empty(t, msg.Changed.Behind)
		require.Empty(t, msg.Changed.Receivers)

		now := *was
		now.Lines, now.Blocks = append([]lines.Line{}, was.Lines...), append([]lines.Block{}, was.Blocks...)
		now.Lines[3] = msg.Changed.Lines["o3"]
		rows := append([]lines.Row{}, now.Blocks[3].Rows...)
		rows[0].Joints = append([]lines.Joint{}, rows[0].Joints...)
		rows[0].Joints[1] = msg.Changed.Joints[3]["out/o3/ends"]
		now.Blocks[3].Rows = rows
		require.True(t, reflect.DeepEqual(&now, b.session.View()))
		was = b.session.View()
	}
	whole, err := json.Marshal(b.shown)
	require.NoError(t, err)
	require.Greater(t, len(whole), 100_000, "so much it would be")
}

// TestAnotherLayoutIsToldWhole: another part, or another order of the parts.
func TestAnotherLayoutIsToldWhole(t *testing.T) {
	b := full(t)
	for id, patch := range []string{
		`[{"op":"add","path":"/mixes/-","value":{"id":"more","to":"o5","from":"s3"}}]`,
		`[{"op":"test","path":"/outputs/7/id","value":"o7"},{"op":"remove","path":"/outputs/7/label"},` +
			`{"op":"add","path":"/transmitter/frame_ms","value":14}]`,
		`[{"op":"add","path":"/name","value":"Empty"}]`,
	} {
		n, p := int64(id+1), contract.Patch(patch)
		b.box.putMessage(&contract.Asked{T: contract.ToTry, Id: &n, Patch: &p})
		b.frame(b.box.take())
		msg, sent := b.next()
		sent()
		require.Equal(t, contract.FromWhole, msg.T, patch)
		b.box.putMessage(&contract.Asked{T: contract.ToDrop})
		require.NotEmpty(t, b.told(1))
	}
}

// TestABenchTakesLittleRoom: with as many outputs as there can be, its document, its program and
// what the page was told among it.
func TestABenchTakesLittleRoom(t *testing.T) {
	full(t) // what is worked out once for all
	before := heap()
	benches := make([]*bench, 8)
	for i := range benches {
		benches[i] = full(t)
	}
	each := (heap() - before) / int64(len(benches))
	t.Logf("%d kB a bench", each>>10)
	require.Less(t, each, int64(1<<20))
	runtime.KeepAlive(benches)
}

// TestTenMinutesOfHandsTakeLittleRoom: 400 benches, the record of each full, have 600 MB: 1.5 MB each.
func TestTenMinutesOfHandsTakeLittleRoom(t *testing.T) {
	full(t)
	before := heap()
	benches := make([]*bench, 4)
	for i := range benches {
		benches[i] = full(t)
		for n := int64(1); n <= 31_000; n++ {
			benches[i].session.Move(map[string]string{"s0": fmt.Sprint(n % 100), "s1": fmt.Sprint(n % 90),
				"s2": fmt.Sprint(n%80) + ".5", "s3": fmt.Sprint(-n % 70)})
			benches[i].session.Live().Frame++
		}
	}
	each := (heap() - before) / int64(len(benches))
	t.Logf("%d kB a bench", each>>10)
	require.Less(t, each, int64(1536<<10))
	runtime.KeepAlive(benches)
}

// BenchmarkATrial is one step of dragging an end at 48 outputs, from the message of the page
// to the text that goes back.
func BenchmarkATrial(bm *testing.B) {
	b := full(bm)
	bytes, id := 0, int64(0)
	for bm.Loop() {
		id++
		text, err := encode(b.tries(id, -50-float64(id%40)))
		require.NoError(bm, err)
		bytes += len(text)
	}
	bm.ReportMetric(float64(bytes)/float64(id), "B/msg")
}
