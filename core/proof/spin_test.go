package proof

import (
	"context"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/setup"
	"axtren/core/signal"
)

// promela writes the rules of a setup that has switches alone, and a claim of the kind never on rules, as
// a Promela model: a frame is one atomic step, in which the hands go anywhere first. The meaning of each
// block is written here anew, from docs/format.md, section 5.
type promela struct {
	s    *setup.Setup
	p    *signal.Program
	text strings.Builder
	late map[int]bool // blocks that some other reads as they were
}

func (w *promela) line(format string, args ...any) { fmt.Fprintf(&w.text, format+"\n", args...) }

// truth writes a condition; as block i reads it, -1 for the claim.
func (w *promela) truth(i int, t setup.Truth) string {
	f, err := w.s.Fact(t)
	if err != nil {
		panic(err)
	}
	of := fmt.Sprintf("(c%d == %d)", f.Index, f.Sub)
	switch {
	case f.Kind == setup.FactBlock && i >= 0 && w.p.Late(setup.IsBlock.At(i), setup.IsBlock.At(f.Index)):
		of = fmt.Sprintf("b%d", f.Index)
	case f.Kind == setup.FactBlock:
		of = fmt.Sprintf("v%d", f.Index)
	}
	if f.Not {
		return "(!" + of + ")"
	}
	return of
}

// order lists the blocks, each after those that it reads as they are.
func (w *promela) order() (list []int) {
	done := map[int]bool{}
	var visit func(i int)
	visit = func(i int) {
		if done[i] {
			return
		}
		done[i] = true
		for r := range w.s.Graph().From(setup.IsBlock.At(i)) {
			if r.To.Kind != setup.IsBlock {
				continue
			}
			if w.p.Late(setup.IsBlock.At(i), r.To) {
				w.late[r.To.Index] = true
			} else {
				visit(r.To.Index)
			}
		}
		list = append(list, i)
	}
	for i := range w.s.Logic {
		visit(i)
	}
	return list
}

// block writes what a block becomes in a frame, and whether its value is carried over.
func (w *promela) block(i int) (carried bool) {
	b := &w.s.Logic[i]
	joined := func(list []setup.Truth, with string) string {
		var in []string
		for _, t := range list {
			in = append(in, w.truth(i, t))
		}
		return strings.Join(in, with)
	}
	edge := func(in, fires string) {
		w.line("  n = %s; v%d = !first && (%s); w%d = n;", in, i, fmt.Sprintf(fires, i), i)
	}
	frames := func(s float64) int { return int(signal.FramesIn(s, w.s.Transmitter.FrameS())) }
	switch spec := b.Spec.(type) {
	case *setup.Gate:
		switch b.Block {
		case "and":
			w.line("  v%d = %s;", i, joined(spec.In, " && "))
		case "or":
			w.line("  v%d = %s;", i, joined(spec.In, " || "))
		default:
			w.line("  v%d = (%s) %% 2;", i, joined(spec.In, " + "))
		}
	case *setup.Edge:
		edge(w.truth(i, spec.In), map[string]string{"r_trig": "n && !w%d", "f_trig": "!n && w%d"}[b.Block])
	case *setup.Latch:
		set, reset := w.truth(i, spec.Set), w.truth(i, spec.Reset)
		if b.Block == "sr" {
			w.line("  v%d = %s || (v%d && !%s);", i, set, i, reset)
		} else {
			w.line("  v%d = (%s || v%d) && !%s;", i, set, i, reset)
		}
		return true
	case *setup.Toggle:
		w.line("  n = %s; v%d = ((!first && n && !w%d) -> !v%d : v%d); w%d = n;", w.truth(i, spec.In), i,
			i, i, i, i)
		return true
	case *setup.Timer:
		in, need := w.truth(i, spec.In), frames(spec.ForS)
		w.line("  n = %s;", in)
		switch b.Block {
		case "ton":
			w.line("  t%d = (!n -> 255 : ((first || t%d == 255) -> 0 : (t%d < %d -> t%d + 1 : %d)));", i,
				i, i, need, i,
				need)
			w.line("  v%d = n && t%d >= %d;", i, i, need)
		case "tof":
			w.line("  t%d = (n -> 255 : (first -> %d : (t%d == 255 -> 0 : (t%d < %d -> t%d + 1 : %d))));",
				i, need, i, i,
				need, i, need)
			w.line("  v%d = n || t%d < %d;", i, i, need)
		default:
			w.line("  t%d = (first -> %d : (t%d < %d -> t%d + 1 : %d));", i, need, i, need, i, need)
			w.line("  if :: (!first && n && !w%d && t%d >= %d) -> t%d = 0 :: else fi;", i, i, need, i)
			w.line("  w%d = n; v%d = t%d < %d;", i, i, i, need)
		}
	}
	return false
}

// write writes the whole model.
func (w *promela) write(claim *setup.Claim) string {
	order := w.order()
	carried := map[int]bool{}
	var frame promela
	frame.s, frame.p, frame.late = w.s, w.p, w.late
	for _, i := range order {
		carried[i] = frame.block(i)
	}
	w.line("bit first = 1; bit n;")
	for i, c := range w.s.Transmitter.Controls {
		w.line("byte c%d; /* %s */", i, c.ID)
	}
	for i := range w.s.Logic {
		at, _ := w.s.Logic[i].StartsAs()
		start := map[bool]int{true: 1}[at == "true"]
		w.line("bit v%d = %d; bit b%d; bit w%d; byte t%d; /* %s */", i, start, i, i, i, w.s.Logic[i].ID)
	}
	w.line("inline frame() {")
	for i := range w.late {
		w.line("  b%d = v%d;", i, i)
	}
	w.text.WriteString(frame.text.String())
	var all []string
	for _, c := range *claim.Never {
		all = append(all, w.truth(-1, c.Truth))
	}
	w.line("  assert(!(%s));", strings.Join(all, " && "))
	w.line("  first = 0; n = 0;")
	for i := range w.s.Transmitter.Controls {
		w.line("  c%d = 0;", i)
	}
	for i := range w.s.Logic {
		if w.line("  b%d = 0;", i); !carried[i] && !w.late[i] {
			w.line("  v%d = 0;", i)
		}
	}
	w.line("}")
	hands := func(sprung bool) {
		for i, c := range w.s.Transmitter.Controls {
			if sprung && c.Switch.SpringTo != nil {
				w.line("    c%d = %d;", i, c.Switch.Rest())
				continue
			}
			w.line("    if")
			for k := range c.Switch.Positions {
				w.line("    :: c%d = %d", i, k)
			}
			w.line("    fi;")
		}
	}
	w.line("init {\n  atomic {")
	hands(true)
	w.line("    frame() }\n  do\n  :: atomic {")
	hands(false)
	w.line("    frame() }\n  od\n}")
	return w.text.String()
}

// spun is what spin found out about a model.
type spun struct {
	bad    bool
	states int
	took   time.Duration
}

var (
	spinStates = regexp.MustCompile(`(?m)^\s*(\d+) states, stored`)
	spinTime   = regexp.MustCompile(`elapsed time ([0-9.]+) seconds`)
)

// spin builds and runs the verifier that spin generates.
func spin(t *testing.T, model string) spun {
	t.Helper()
	for _, tool := range []string{"spin", "gcc"} {
		_, err := exec.LookPath(tool)
		require.NoError(t, err, "install Debian's packages spin and gcc")
	}
	folder := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(folder, "rules.pml"), []byte(model), 0o600))
	run := func(name string, args ...string) string {
		cmd := exec.Command(name, args...)
		cmd.Dir = folder
		out, err := cmd.CombinedOutput()
		require.NoError(t, err, "%s %v\n%s\n%s", name, args, out, model)
		return string(out)
	}
	run("spin", "-a", "rules.pml")
	run("gcc", "-O3", "-DSAFETY", "-DNOFAIR", "-DNOREDUCE", "-o", "pan", "pan.c")
	out := run("./pan", "-m200000", "-n")
	s := spun{bad: !strings.Contains(out, "errors: 0")}
	if elapsed := spinTime.FindStringSubmatch(out); elapsed != nil { // as it says itself, without its start
		seconds, _ := strconv.ParseFloat(elapsed[1], 64)
		s.took = time.Duration(seconds * float64(time.Second))
	}
	require.NotContains(t, out, "max search depth too small")
	found := spinStates.FindStringSubmatch(out)
	require.NotNil(t, found, out)
	s.states, _ = strconv.Atoi(found[1])
	return s
}

// switched is a random setup of switches and rules, with a claim.
func switched(rng *rand.Rand) string {
	one := func(list ...string) string { return list[rng.IntN(len(list))] }
	refs := []string{"key.press", "mode.a", "mode.b", "mode.c", "lock.shut"}
	ref := func() string { return one("", "", "not ") + one(refs...) }
	text := "format: axtren-setup\nversion: 1\ntransmitter:\n  frame_ms: 50\n  controls:\n" +
		"    - {id: key, kind: switch, positions: [rest, press], spring_to: rest}\n" +
		"    - {id: mode, kind: switch, positions: [a, b, c]}\n" +
		"    - {id: lock, kind: switch, positions: [free, shut]}\nlogic:\n"
	n := 4 + rng.IntN(4)
	for i := range n {
		id := fmt.Sprint("r", i)
		switch rng.IntN(5) {
		case 0:
			text += fmt.Sprintf("  - {id: %s, block: %s, in: [%s, %s]}\n", id, one("and", "or", "xor"), ref(), ref())
		case 1:
			text += fmt.Sprintf("  - {id: %s, block: %s, in: %s}\n", id, one("r_trig", "f_trig", "toggle"), ref())
		case 2:
			text += fmt.Sprintf("  - {id: %s, block: %s, set: %s, reset: %s, start: %s}\n", id, one("sr",
				"rs"), ref(), ref(),
				one("true", "false"))
		default:
			text += fmt.Sprintf("  - {id: %s, block: %s, in: %s, for_s: %g}\n", id, one("ton", "tof", "tp"), ref(),
				0.05*float64(1+rng.IntN(6)))
		}
		refs = append(refs, id)
	}
	return text + fmt.Sprintf("claims: [{id: c, never: [r%d, %s, %s, %s]}]\n", n-1, ref(), ref(), ref())
}

// modelOf writes the first claim of a setup as a Promela model.
func modelOf(t *testing.T, s *setup.Setup) string {
	t.Helper()
	p, err := signal.Compile(s)
	require.NoError(t, err)
	w := &promela{s: s, p: p, late: map[int]bool{}}
	return w.write(&s.Claims[0])
}

// TestAgainstSpin compares verdicts, and how many states there are, with those of the verifier that spin
// generates (Holzmann, The Model Checker SPIN, IEEE Trans. Softw. Eng. 23 (1997) 279-295), which knows
// nothing of ours. Only in the long test, which installs it.
func TestAgainstSpin(t *testing.T) {
	if os.Getenv("AXTREN_LONG") == "" {
		t.Skip("only in the long test")
	}
	holds, fails := 0, 0
	for seed := range uint64(30) {
		text := switched(rand.New(rand.NewPCG(seed, 23)))
		doc, err := setup.ReadYAML([]byte(text))
		require.NoError(t, err, text)
		v := Decide(context.Background(), doc.Setup, 0, Usual)
		require.NotEqual(t, Undecided, v.Verdict)
		found := spin(t, modelOf(t, doc.Setup))
		require.Equal(t, v.Verdict == Fails, found.bad, text)
		if found.bad {
			fails++
		} else {
			holds++
		}
	}
	t.Log(holds, "hold,", fails, "fail")
	require.Greater(t, holds, 5)
	require.Greater(t, fails, 5)
}

// TestTheModelIsTheDemo: the committed model is that of the rules of the demonstration.
func TestTheModelIsTheDemo(t *testing.T) {
	model := modelOf(t, waderRules(t))
	const path = "testdata/wader_rules.pml"
	if os.Getenv("AXTREN_MODEL") != "" {
		require.NoError(t, os.MkdirAll("testdata", 0o755))
		require.NoError(t, os.WriteFile(path, []byte(model), 0o600))
	}
	kept, err := os.ReadFile(path)
	require.NoError(t, err)
	require.Equal(t, model, string(kept),
		"write it anew: AXTREN_MODEL=1 go test -run TestTheModelIsTheDemo ./core/proof")
}

// waderRules are the rules by which Wader goes from water to land, without its ramp, with a claim that
// needs all of them.
func waderRules(t *testing.T) *setup.Setup {
	t.Helper()
	text, err := os.ReadFile("../../demo/wader.yaml")
	require.NoError(t, err)
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	tree := doc.Tree
	for _, list := range []string{"sequences", "patterns", "mixes", "shares", "outputs", "receivers", "devices",
		"announcements", "claims", "start_check", "stage", "demands", "wiring", "plan", "stand", "steppers"} {
		if tree.Get(list) != nil {
			require.NoError(t, tree.Remove(list))
		}
	}
	controls := tree.At("transmitter", "controls")
	for i := len(controls.Items) - 1; i >= 0; i-- {
		if id := controls.Items[i].Get("id").Text; id != "act_key" && id != "chooser" {
			require.NoError(t, controls.Remove(strconv.Itoa(i)))
		}
	}
	logic := tree.Get("logic")
	for _, block := range logic.Items {
		if in := block.Get("in"); block.Get("id").Text == "skirt_wanted" {
			in.Items = in.Items[:1]
		}
	}
	require.NoError(t, tree.Put("claims", setup.NodeOf([]any{setup.GroupNode("id", "apart", "never",
		[]any{"skirt_left", "ramp_wanted", "at_water"})})))
	made, err := setup.FromTree(tree)
	require.NoError(t, err)
	return made.Setup
}

// TestSpeedBesideSpin prints how many states a second the search visits, and spin's verifier, on the model of
// the demonstration: scripts/beside-spin.sh asks for it.
func TestSpeedBesideSpin(t *testing.T) {
	if os.Getenv("AXTREN_BESIDE_SPIN") == "" {
		t.Skip("only for scripts/beside-spin.sh")
	}
	s := waderRules(t)
	for i := range s.Logic { // longer times, so that there is something to measure
		if timer, ok := s.Logic[i].Spec.(*setup.Timer); ok {
			timer.ForS = min(12*timer.ForS, 5)
		}
	}
	theirs := spin(t, modelOf(t, s))
	y, err := newSystem(s, &s.Claims[0], nil)
	require.NoError(t, err)
	began := time.Now()
	out := y.free(context.Background(), Usual, nil)
	took := time.Since(began)
	require.Equal(t, out.bad, theirs.bad)
	rate := func(states int, d time.Duration) float64 { return float64(states) / d.Seconds() }
	ours, spins := rate(out.states, took), rate(theirs.states, theirs.took)
	fmt.Printf("states: %d ours, %d spin\nstates a second: %.0f ours, %.0f spin\nratio: %.2f\n",
		out.states, theirs.states,
		ours, spins, ours/spins)
}
