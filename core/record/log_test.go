package record

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/demo"
	"axtren/internal/golden"
)

const modelText = `format: axtren-setup
version: 1
transmitter:
  controls:
    - {id: button, kind: switch, label: Button, positions: [rest, press], spring_to: rest}
    - {id: lock, kind: switch, label: Lock, positions: [free, locked]}
    - {id: stick, kind: axis, label: Stick}
logic:
  - {id: water, block: toggle, label: Water, in: button.press, reset: lock.locked}
  - {id: primed, block: ton, label: Primed, in: water, for_s: 0.1}
  - {id: both, block: and, label: Both, in: [primed, far]}
  - {id: far, block: above, label: Far, of: stick, level: 30}
  - {id: late, block: tof, label: Late, in: button.press, for_s: 0.2}
steppers: [{id: mode, label: Mode, up: button.press, steps: [{name: low, value: -100}, {name: high, value: 100}], wrap: true}]
outputs: [{id: motor, label: Motor, channel: 1}]
mixes: [{to: motor, from: stick}]
announcements: [{id: say, when: primed, say: ready}]
`

// bench is a program that is stepped with a log beside it.
type bench struct {
	t     *testing.T
	p     *signal.Program
	st    *signal.State
	hands signal.Hands
	log   *Log
}

func newBench(t *testing.T, text string) *bench {
	doc, err := setup.ReadYAML([]byte(text))
	require.NoError(t, err)
	return benchOf(t, doc.Setup)
}

func benchOf(t *testing.T, s *setup.Setup) *bench {
	p, err := signal.Compile(s)
	require.NoError(t, err)
	b := &bench{t: t, p: p, st: p.PowerOn(), hands: p.Rest(), log: NewLog(p, 1, nil)}
	b.run(1)
	return b
}

// run steps so many frames.
func (b *bench) run(frames int) {
	for range frames {
		b.p.Step(b.st, b.hands)
		b.log.Step(b.st)
	}
}

// puts moves a hand and steps one frame; it gives that frame.
func (b *bench) puts(id, value string) int64 {
	hand, ok := b.p.Hand(id)
	require.True(b.t, ok)
	v, err := b.p.HandValue(id, value)
	require.NoError(b.t, err)
	b.hands[hand] = v
	b.run(1)
	return b.st.Frame
}

func says(steps []Step) []string {
	var list []string
	for _, s := range steps {
		list = append(list, s.Says)
	}
	return list
}

// TestWhyDidThisChange walks back to a hand, over a toggle, a time and a condition on a lever.
func TestWhyDidThisChange(t *testing.T) {
	b := newBench(t, modelText)
	b.run(10)
	b.puts("stick", "50")
	pressed := b.puts("button", "press")
	b.run(20)
	why := func(key string) []string {
		steps, ok := b.log.Why(key, b.st.Frame)
		require.True(t, ok)
		return says(steps)
	}
	require.Equal(t, []string{
		"Both went on because Primed went on, while Far is on; nothing else that it looks at changed then.",
		"Primed went on because Water is on, and 0.1 s were over.",
		"Water went on because Button was pressed, while Lock is at free; nothing else that it " +
			"looks at changed then.",
		"Button was pressed by hand."}, why("logic/both"))
	steps, _ := b.log.Why("logic/both", b.st.Frame)
	require.Equal(t, "controls/button", steps[3].Key)
	require.Equal(t, pressed, steps[3].Frame)
	require.Equal(t, pressed+5, steps[0].Frame, "0.1 s are five frames of 20 ms")
	require.Equal(t, "Mode went to high because Button was pressed.", why("steppers/mode")[0])
	require.Equal(t, "“ready” was said because Primed went on.", b.said("announcements/say", 0))
	require.Equal(t, "Motor (function) went to +50 % because Stick went to +50 %",
		strings.TrimSuffix(why("outputs/motor")[0], "."))
	b.puts("lock", "locked")
	require.Equal(t, []string{
		"Both went off because Primed went off, while Far is on; nothing else that it looks at changed then.",
		"Primed went off because Water went off.",
		"Water went off because Lock went to locked.",
		"Lock went to locked by hand."}, why("logic/both"))
	b.puts("button", "rest")
	b.run(20)
	require.Equal(t, []string{"Late went off because Button is let go, and 0.2 s were over.",
		"Button was let go by hand."}, why("logic/late"))
	_, ok := b.log.Why("logic/nothing", 5)
	require.False(t, ok)
	require.Equal(t, []string{"Far has not changed in what is on record."},
		says(first(b.log.Why("logic/far", 3))))
}

func first[T, U any](v T, _ U) T { return v }

// said gives the first step of the last time that something became true.
func (b *bench) said(key string, _ int) string {
	i, ok := b.log.find(key)
	require.True(b.t, ok)
	h := b.log.histories()[i]
	at := h.frames[slices.Index(h.values, 1)]
	steps, _ := b.log.Why(key, at)
	return steps[0].Says
}

// TestWhyDidItNot names what was missing, down to what hands can do.
func TestWhyDidItNot(t *testing.T) {
	b := newBench(t, modelText)
	b.run(10)
	not := func(key string) []string {
		list, ok := b.log.WhyNot(key, b.st.Frame)
		require.True(t, ok)
		return list
	}
	require.Equal(t, []string{"Both waited for this, which was not so: Primed is on.",
		"Primed waited for this, which was not so: Water is on.", "Water goes on when Button is pressed.",
		"Both waited for this, which was not so: Far is on.",
		"Far goes on where Stick is at or above +30 %; it was at 0 % (Stick)."}, not("logic/both"))
	b.puts("button", "press")
	b.run(1)
	require.Equal(t, []string{"Primed goes on when this has lasted 0.1 s: Water is on. It had lasted 0.02 s."},
		not("logic/primed"))
	b.puts("lock", "locked")
	require.Equal(t, []string{"Water is held off as long as Lock is at locked."}, not("logic/water"))
	b.puts("lock", "free")
	b.puts("button", "rest")
	b.run(10)
	require.Equal(t, []string{"Water goes on when Button is pressed.",
		"The last time that Button was pressed was 0.28 s before."}, not("logic/water"))
	b.puts("stick", "80")
	require.Equal(t, []string{"Far was on then."}, not("logic/far"))
	_, ok := b.log.WhyNot("outputs/motor", 5)
	require.False(t, ok, "a function is never off")
	b.puts("transmitter", "off")
	require.Equal(t, []string{"The transmitter sent nothing then."}, not("logic/both"))
}

// TestACauseIsACause: for whatever hands do with the models of the demo, a rule that changed did so
// because of the hand that is named at the end: without that movement it does not change in that frame.
// Played by the engine.
func TestACauseIsACause(t *testing.T) {
	yard, err := demo.Yard()
	require.NoError(t, err)
	checked := 0
	for _, m := range yard {
		s := m.Doc.Setup
		if len(s.Logic) == 0 {
			continue
		}
		rng := rand.New(rand.NewPCG(7, 9))
		b := benchOf(t, s)
		type moved struct {
			frame int64
			hand  int
			to    float64
		}
		var script []moved
		for range 60 { // a movement, and some time
			c := rng.IntN(len(s.Transmitter.Controls))
			to := float64(rng.IntN(5)-2) * 50
			if sw := s.Transmitter.Controls[c].Switch; sw != nil {
				to = float64(rng.IntN(len(sw.Positions)))
			}
			if b.hands[c] != to {
				b.hands[c] = to
				script = append(script, moved{b.st.Frame, c, to})
			}
			b.run(1 + rng.IntN(60))
		}
		// changed tells whether a block changed in a frame when one movement is left out
		changed := func(block int, frame int64, without int) bool {
			st, hands := b.p.PowerOn(), b.p.Rest()
			b.p.Step(st, hands)
			before := st.At(b.p.BlockSlot(block))
			next := 0
			for st.Frame < frame {
				before = st.At(b.p.BlockSlot(block))
				for next < len(script) && script[next].frame == st.Frame {
					if next != without {
						hands[script[next].hand] = script[next].to
					}
					next++
				}
				b.p.Step(st, hands)
			}
			return st.At(b.p.BlockSlot(block)) != before
		}
		all := b.log.histories()
		for i, sig := range b.log.Signals {
			if sig.part.Kind != setup.IsBlock {
				continue
			}
			for k := len(all[i].frames) - 1; k >= max(0, len(all[i].frames)-4); k-- {
				frame := all[i].frames[k]
				steps, ok := b.log.Why(sig.Key, frame)
				require.True(t, ok)
				last := steps[len(steps)-1]
				require.Equal(t, frame, steps[0].Frame)
				if !strings.HasSuffix(last.Says, "by hand.") {
					continue
				}
				at := slices.IndexFunc(script, func(m moved) bool {
					return m.frame == last.Frame-1 && "controls/"+string(s.Transmitter.Controls[m.hand].ID) == last.Key
				})
				require.GreaterOrEqual(t, at, 0, "%s: %v", m.Doc.Setup.Name, says(steps))
				require.True(t, changed(sig.part.Index, frame, -1))
				require.False(t, changed(sig.part.Index, frame, at), "%s: %s changes in frame %d without it: %v",
					s.Name, sig.Label, frame, says(steps))
				checked++
			}
		}
	}
	t.Logf("%d causes checked", checked)
	require.Greater(t, checked, 60)
}

// TestTheRecordIsBounded: ten minutes, and not more changes than there is room for; what is left is right.
func TestTheRecordIsBounded(t *testing.T) {
	b := newBench(t, modelText)
	for k := range 40_000 {
		b.hands[0], b.hands[2] = float64(k%2), float64(k%200-100)
		b.run(1)
	}
	from, to := b.log.Span()
	require.EqualValues(t, 40_001, to)
	require.GreaterOrEqual(t, from, to-30_000)
	require.LessOrEqual(t, b.log.changes.Len(), mostChanges)
	require.Less(t, b.log.changes.Bytes(), 1<<20)
	strips := b.log.Strips()
	require.Len(t, strips.At, b.log.changes.Len())
	require.True(t, slices.IsSorted(strips.At))
	i, _ := b.log.find("controls/button")
	require.Equal(t, b.st.At(b.p.ControlSlot(0)), b.log.histories()[i].at(to))
	require.GreaterOrEqual(t, strips.At[0], from)
	tail := b.log.Since(to - 10)
	require.NotEmpty(t, tail.At)
	require.Greater(t, tail.At[0], to-10)
}

// TestARecordGoesOn over an edit: what is still there keeps what it did, what is new begins, what is gone
// is gone.
func TestARecordGoesOn(t *testing.T) {
	b := newBench(t, modelText)
	b.run(5)
	at := b.puts("button", "press")
	doc, err := setup.ReadYAML([]byte(strings.Replace(strings.Replace(modelText,
		"id: late, block: tof, label: Late",
		"id: later, block: tof, label: Later", 1), "level: 30", "level: 60", 1)))
	require.NoError(t, err)
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	next := NewLog(p, b.st.Frame, b.log)
	st := p.Carry(b.p, b.st, b.hands)
	p.Step(st, b.hands)
	next.Step(st)
	steps, ok := next.Why("logic/water", st.Frame)
	require.True(t, ok)
	require.Equal(t, at, steps[0].Frame)
	_, ok = next.find("logic/late")
	require.False(t, ok)
	_, ok = next.find("logic/later")
	require.True(t, ok)
}

// TestATableOfTheRecord: its names and its times.
func TestATableOfTheRecord(t *testing.T) {
	b := newBench(t, modelText)
	b.run(4)
	b.puts("button", "press")
	b.puts("stick", "-12.5")
	b.run(3)
	var out bytes.Buffer
	keys := []string{"logic/water", "steppers/mode", "controls/stick", "controls/button"}
	require.NoError(t, b.log.WriteCSV(&out, keys, 2, 9))
	require.Equal(t, `t_s,button,stick,water,mode
0.020,rest,0.0,0,low
0.100,press,0.0,1,high
0.120,press,-12.5,1,high
0.160,press,-12.5,1,high
`, out.String())
}

// TestADumpOfTheRecord: read by a reader of its own, which knows nothing but IEEE 1364-2001, clause 18.
func TestADumpOfTheRecord(t *testing.T) {
	b := newBench(t, modelText)
	b.run(4)
	b.puts("button", "press")
	b.puts("stick", "-12.5")
	b.run(3)
	var out bytes.Buffer
	require.NoError(t, b.log.WriteVCD(&out, nil, 1, b.st.Frame))
	names, values := readDump(t, out.String())
	require.Equal(t, []string{"button", "lock", "stick", "water", "primed", "both", "far", "late", "mode",
		"motor", "say",
		"sends"}, names)
	require.Equal(t, map[int64]string{0: "b1", 100_000: "b10"}, values["button"])
	require.Equal(t, map[int64]string{0: "0", 100_000: "1"}, values["water"])
	require.Equal(t, map[int64]string{0: "b1", 100_000: "b10"}, values["mode"])
	require.Equal(t, map[int64]string{0: "r0", 120_000: "r-12.5"}, values["stick"])
	require.Equal(t, map[int64]string{0: "1"}, values["sends"])
}

// readDump reads a value change dump: the names in their order, and of each what it became when, in
// microseconds.
func readDump(t *testing.T, text string) (names []string, values map[string]map[int64]string) {
	head, body, ok := strings.Cut(text, "$enddefinitions $end\n")
	require.True(t, ok)
	require.Contains(t, head, "$timescale 1us $end")
	of := map[string]string{}
	values = map[string]map[int64]string{}
	for _, m := range regexp.MustCompile(`\$var (wire|real|integer) \d+ (\S+) (\S+) \$end`).FindAllStringSubmatch(head, -1) {
		require.Empty(t, of[m[2]], "an identifier is there once")
		of[m[2]] = m[3]
		names = append(names, m[3])
		values[m[3]] = map[int64]string{}
	}
	now := int64(-1)
	for line := range strings.Lines(body) {
		line = strings.TrimSpace(line)
		switch line[0] {
		case '#':
			then, err := strconv.ParseInt(line[1:], 10, 64)
			require.NoError(t, err)
			require.Greater(t, then, now, "time goes on")
			now = then
		case 'b', 'r':
			var value, id string
			_, err := fmt.Sscan(line, &value, &id)
			require.NoError(t, err)
			require.NotEmpty(t, of[id])
			values[of[id]][now] = value
		default:
			require.NotEmpty(t, of[line[1:]])
			values[of[line[1:]]][now] = line[:1]
		}
	}
	return names, values
}

// TestSince: what is newer than a frame, and only that; where there is nothing, the lists are empty and
// there.
func TestSince(t *testing.T) {
	b := newBench(t, modelText)
	at := b.puts("button", "press")
	b.run(3)
	newer := b.log.Since(at - 1)
	require.Equal(t, at, newer.From)
	require.Equal(t, b.st.Frame, newer.To)
	require.NotEmpty(t, newer.At)
	for _, frame := range newer.At {
		require.GreaterOrEqual(t, frame, at)
	}
	none := b.log.Since(b.st.Frame)
	require.Equal(t, b.st.Frame+1, none.From)
	require.Equal(t, []int64{}, none.At)
	require.Equal(t, []int{}, none.Of)
	require.Equal(t, []float64{}, none.V)
}

// TestStepsWithoutRepeat: a step that only its own button can have made is not put down to one that is held.
func TestStepsWithoutRepeat(t *testing.T) {
	b := newBench(t, modelText)
	b.puts("button", "press")
	at := b.st.Frame
	b.run(40)
	steps, ok := b.log.Why("steppers/mode", b.st.Frame)
	require.True(t, ok)
	require.Equal(t, at, steps[0].Frame)
	require.NotContains(t, steps[0].Says, "steps again")
	early, ok := b.log.Why("steppers/mode", at-1)
	require.True(t, ok)
	require.Equal(t, []string{"Mode has not changed in what is on record."}, says(early))
}

// TestChangesBegin: the first that is kept may lie at any frame.
func TestChangesBegin(t *testing.T) {
	var m Changes
	for _, frame := range []int64{1 << 40, 1<<40 + 1} {
		m.Add(Change{1.5, frame, 3})
	}
	require.Equal(t, Change{1.5, 1 << 40, 3}, m.Oldest())
	m.Forget()
	require.Equal(t, Change{1.5, 1<<40 + 1, 3}, m.Oldest())
	m.Forget()
	require.Zero(t, m.Len())
	m.Add(Change{2, 7, 0})
	require.Equal(t, Change{2, 7, 0}, m.Oldest(), "emptied, it begins anew")
}

// TestEveryWhy compares every answer of a long run of the models that use everything with what was read and
// found right: why each thing changed, and why it is not on in the end.
func TestEveryWhy(t *testing.T) {
	var text strings.Builder
	var models []*setup.Setup
	for _, m := range golden.Models(t) {
		models = append(models, m.Doc.Setup)
	}
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		models = append(models, m.Doc.Setup)
	}
	for _, s := range models {
		b := benchOf(t, s)
		fmt.Fprintln(&text, s.Name)
		for _, c := range s.Transmitter.Controls {
			puts := []string{"100", "-60", "0"}
			if c.Switch != nil {
				puts = nil
				for i := range c.Switch.Positions {
					puts = append(puts, string(c.Switch.Positions[len(c.Switch.Positions)-1-i]))
				}
			}
			for _, at := range puts {
				b.puts(string(c.ID), at)
				b.run(70)
			}
		}
		sent := b.st.Frame
		for _, on := range []string{"off", "on"} {
			b.puts("transmitter", on)
			b.run(5)
		}
		all := b.log.histories()
		var keys []string
		for i, sig := range b.log.Signals {
			keys = append(keys, sig.Key)
			for k, frame := range all[i].frames {
				if steps, _ := b.log.Why(sig.Key, frame); k < 2 {
					fmt.Fprintf(&text, "  %s %d: %s\n", sig.Key, frame, strings.Join(says(steps), " "))
				}
			}
			if not, ok := b.log.WhyNot(sig.Key, sent); ok {
				fmt.Fprintf(&text, "  %s is not on: %s\n", sig.Key, strings.Join(not, " "))
			}
		}
		from, to := b.log.Span()
		require.NoError(t, b.log.WriteCSV(&text, keys, max(from, to-200), to))
		require.NoError(t, b.log.WriteVCD(&text, keys, max(from, to-200), to))
	}
	golden.Equal(t, "why", text.String())
}
