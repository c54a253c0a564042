package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/core/proof"
)

var binary string

func TestMain(m *testing.M) {
	dir, err := os.MkdirTemp("", "axtren-cmd-")
	if err != nil {
		panic(err)
	}
	binary = filepath.Join(dir, "axtren")
	if out, err := exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
		panic(string(out))
	}
	code := m.Run()
	os.RemoveAll(dir)
	os.Exit(code)
}

// axtren runs the program as a shell does.
func axtren(t *testing.T, args ...string) (stdout, stderr string, code int) {
	cmd := exec.Command(binary, args...)
	var out, errs bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &errs
	err := cmd.Run()
	if err != nil {
		require.IsType(t, &exec.ExitError{}, err)
	}
	return out.String(), errs.String(), cmd.ProcessState.ExitCode()
}

const (
	stoat = "../../demo/stoat.yaml"
	cases = "../../core/signal/testdata/cases/"
)

func write(t *testing.T, name, text string) string {
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
	return path
}

func TestSimulateWritesTheTrace(t *testing.T) {
	out := filepath.Join(t.TempDir(), "t.csv")
	_, stderr, code := axtren(t, "simulate", cases+"tracks_keep_turn/setup.json", "--script",
		cases+"tracks_keep_turn/script.csv", "--for", "0.93", "--out", out)
	require.Zero(t, code, stderr)
	require.Empty(t, stderr)
	got, err := os.ReadFile(out)
	require.NoError(t, err)
	want, err := os.ReadFile(cases + "tracks_keep_turn/expected.csv")
	require.NoError(t, err)
	require.Equal(t, strings.ReplaceAll(string(want), "\r\n", "\n"), string(got))
}

// TestASimulationStopsWhole interrupts a long run: the file ends with a whole row.
func TestASimulationStopsWhole(t *testing.T) {
	out := filepath.Join(t.TempDir(), "t.csv")
	cmd := exec.Command(binary, "simulate", stoat, "--for", "10000000", "--out", out)
	var stderr bytes.Buffer
	cmd.Stderr = &stderr
	require.NoError(t, cmd.Start())
	time.Sleep(1500 * time.Millisecond)
	require.NoError(t, cmd.Process.Signal(os.Interrupt))
	require.Error(t, cmd.Wait())
	require.Contains(t, stderr.String(), "of 10000000 s played")
	require.Contains(t, stderr.String(), "is written")
	text, err := os.ReadFile(out)
	require.NoError(t, err)
	rows := strings.Split(strings.TrimSuffix(string(text), "\n"), "\n")
	require.Greater(t, len(rows), 1000)
	require.Equal(t, strings.Count(rows[0], ","), strings.Count(rows[len(rows)-1], ","))
	require.True(t, strings.HasSuffix(string(text), "\n"))
}

func TestWhyPrintsTheArithmetic(t *testing.T) {
	script := write(t, "s.csv", "t_s,control,value\n0.1,drive,60\n0.1,turn,-25\n")
	stdout, _, code := axtren(t, "why", stoat, "starboard_track", "--script", script, "--at", "0.2")
	require.Zero(t, code)
	for _, want := range []string{"0.8 × 60.0 + 0.2 × 60.0³ / 10000", "52.32 + 20.0", "0 − 72.32",
		"−72.32 / 100 × 96", "1500 − 69.43 × 5", "= 1153.0 µs", "pin 2, channel 2", "right controller",
		"−100 × (1500 − 1153.0 − 20) / 480", "= −68.12 %"} {
		require.Contains(t, stdout, want)
	}
}

// TestSheetIsWritten as CSV on standard output, as PDF into a file, and of two setups
// only what differs.
func TestSheetIsWritten(t *testing.T) {
	out, _, code := axtren(t, "sheet", "../../demo/stoat.yaml")
	require.Zero(t, code)
	require.Contains(t, out, "Ends,2,\"Right track, stick forward\",96,1020,")
	pdf := filepath.Join(t.TempDir(), "stoat.pdf")
	_, _, code = axtren(t, "sheet", "../../demo/stoat.yaml", "--out", pdf, "--paper", "A6")
	require.Zero(t, code)
	text, err := os.ReadFile(pdf)
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(string(text), "%PDF-"))

	demo, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	newer := write(t, "newer.yaml", strings.Replace(string(demo), "low: -70, high: 82", "low: -64, high: 82",
		1))
	out, _, code = axtren(t, "sheet", newer, "--since", "../../demo/stoat.yaml")
	require.Zero(t, code)
	require.Contains(t, out, "stick back\",64,1180")
	require.NotContains(t, out, "Right track")
	require.Contains(t, out, "Only what changed since the older setup.")
	for _, bad := range [][]string{{"--out", "x.doc"}, {"--out", "nowhere"}, {"--out", pdf, "--paper", "A3"},
		{"--since", "missing.yaml"}} {
		_, said, code := axtren(t, append([]string{"sheet", "../../demo/stoat.yaml"}, bad...)...)
		require.Equal(t, 2, code, bad)
		require.NotEmpty(t, said)
	}
	kept, err := os.ReadFile(pdf)
	require.NoError(t, err)
	require.Equal(t, text, kept, "what cannot be written leaves the old file alone")
}

func TestSchemaIsPrinted(t *testing.T) {
	stdout, _, code := axtren(t, "schema")
	require.Zero(t, code)
	require.Contains(t, stdout, "https://json-schema.org/draft/2020-12/schema")
}

func TestCheckSaysWhatItFindsAndExitsSo(t *testing.T) {
	stdout, _, code := axtren(t, "check", stoat)
	require.Zero(t, code, stdout)
	flawed := write(t, "flawed.yaml",
		"format: axtren-setup\nversion: 1\noutputs: [{id: o, channel: 1}]\nclaims: [{id: c, never: "+
			"[power_on]}]\n")
	stdout, _, code = axtren(t, "check", flawed, "--json")
	require.Equal(t, 1, code)
	require.JSONEq(t, `{"findings": [{"rule": "not_driven", "severity": "warning", "where": "outputs[0]", "message": "nothing moves Channel 1", "remedy": "add a mix to it, or remove it"}],
		"claims": [{"id": "c", "verdict": "fails", "steps": [], "fails_at_s": 0, "states": 1}]}`, stdout)
	ring := write(t, "ring.yaml",
		"format: axtren-setup\nversion: 1\nmixes: [{to: o, from: o.asked}]\noutputs: [{id: o, channel: 1}]\n")
	stdout, _, code = axtren(t, "check", ring)
	require.Equal(t, 2, code)
	require.Contains(t, stdout, "o.asked <- o.asked")
	bad := write(t, "bad.yaml", "format: axtren-setup\nversion: 1\noutputs: [{id: o, channel: 99}]\n")
	stdout, _, code = axtren(t, "check", bad, "--json")
	require.Equal(t, 2, code)
	require.Contains(t, stdout, `"where": "outputs[0].channel"`)
}

// TestClaimsAreDecided: by word and as JSON, one alone with exit codes of its own; what is found plays so.
func TestClaimsAreDecided(t *testing.T) {
	const pipit = "../../demo/pipit.yaml"
	stdout, _, code := axtren(t, "check", pipit)
	require.Equal(t, 1, code)
	require.Contains(t, stdout,
		"fails     The lamp pod never lights on a low battery: never at once: Battery alarm at "+
			"low; Lamp pod is above 0\n          Before power-on: Battery alarm at low.\n          2 s "+
			"later, it is broken.\n")
	require.Contains(t, stdout, "holds     A junior never gets more than half")
	stdout, _, code = axtren(t, "check", pipit, "--claim", "pod_saves", "--json")
	require.Equal(t, 1, code)
	var report claimReport
	require.NoError(t, json.Unmarshal([]byte(stdout), &report))
	require.Empty(t, report.Findings)
	require.Len(t, report.Claims, 1)
	v := report.Claims[0]
	require.Equal(t, []proof.Row{{T: 0, Control: "battery", Value: "low"}}, v.Rows)
	require.InDelta(t, 2, *v.At, 1e-9)
	_, _, code = axtren(t, "check", pipit, "--claim", "junior_cap")
	require.Zero(t, code)
	stdout, _, code = axtren(t, "check", "../../demo/wader.yaml", "--claim", "one_drive", "--seconds",
		"0", "--json")
	require.Equal(t, 3, code)
	require.Contains(t, stdout, `"verdict": "undecided",
      "steps": [],
      "fails_at_s": null`)
	for _, flags := range [][]string{{"--claim", "nothing"}, {"--seconds", "-1"}, {"--memory", "0"}} {
		_, stderr, code := axtren(t, append([]string{"check", pipit}, flags...)...)
		require.Equal(t, 2, code)
		require.Contains(t, stderr, "use ")
	}
}

// TestReach: the fewest movements, by word and as JSON, from power-on and after a script.
func TestReach(t *testing.T) {
	const marram = "../../demo/marram.yaml"
	stdout, _, code := axtren(t, "reach", marram, "spray_ready")
	require.Zero(t, code)
	require.Equal(t, "Press Left button and put Water lock to free.\n1.5 s later, it is so.\n", stdout)
	after := write(t, "after.csv", "t_s,control,value\n0.1,arm,free\n")
	stdout, _, code = axtren(t, "reach", marram, "spray_on", "--after", after, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"reachable": true, "undecided": false, "script": "t_s,control,value\n0.120,spray,press\n",
		"at_s": 0.12}`, stdout)
	stdout, _, code = axtren(t, "reach", marram, "monitor_pump > 70", "--json")
	require.Equal(t, 1, code)
	require.JSONEq(t, `{"reachable": false, "undecided": false, "script": "", "at_s": null}`, stdout)
	for _, c := range [][]string{{"sprey", "did you mean spray"}, {"winch > fast", "is no figure"},
		{"mast_lights > 3", "is no output and no device"}} {
		_, stderr, code := axtren(t, "reach", marram, c[0])
		require.Equal(t, 2, code)
		require.Contains(t, stderr, c[1])
	}
	_, stderr, code := axtren(t, "reach", marram, "spray_on", "--after", write(t, "bad.csv",
		"t_s,control,value\n0,x,1\n"))
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "line 2")
}

func TestLoss(t *testing.T) {
	const quill, script = "../../demo/quill.yaml", "../../demo/quill/down-to-the-wreck-and-up.csv"
	stdout, _, code := axtren(t, "loss", quill, "--script", script)
	require.Zero(t, code)
	require.Contains(t, stdout, "The signal was cut in 1909 frames.\n")
	require.Contains(t, stdout, "\nrudder servo         always 0\n")
	require.NotContains(t, stdout, "leveller")
	const model = `
format: axtren-setup
version: 1
transmitter: {controls: [{id: stick, kind: axis, spring: centre}]}
mixes: [{to: o, from: stick}]
outputs: [{id: o, channel: 1, loss: {mode: hold}}]
receivers: [{id: rx, loss_after_s: 0.1, pins: [{pin: 1, channel: 1}]}]
devices: [{id: a, on: rx.1, kind: servo}]
`
	setup := write(t, "held.yaml", model)
	moves := write(t, "moves.csv", "t_s,control,value\n0.1,stick,60\n0.1,link,down\n0.2,stick,-12.5\n")
	stdout, _, code = axtren(t, "loss", setup, "--script", moves, "--for", "0.3", "--after", "0", "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"cuts": 15, "devices":
		{"a": {"least": -12.5, "least_cut_s": 0.22, "most": 60, "most_cut_s": 0.12}}}`, stdout)
	stdout, _, code = axtren(t, "loss", setup, "--script", moves, "--json")
	require.Zero(t, code)
	require.Contains(t, stdout, `"cuts": 110`)
	stdout, _, code = axtren(t, "loss", setup, "--for", "0", "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"cuts": 0, "devices": {}}`, stdout)
	for _, c := range [][]string{{"--after", "-1"}, {"--after", "601"}, {"--for", "-1"}, {"--after", "NaN"},
		{"--script", write(t, "bad.csv", "t_s,control,value\n0,nobody,1\n")}} {
		_, stderr, code := axtren(t, append([]string{"loss", setup}, c...)...)
		require.Equal(t, 2, code, c)
		require.NotEmpty(t, stderr, c)
	}
}

func TestStart(t *testing.T) {
	const model = `
format: axtren-setup
version: 1
transmitter: {controls: [{id: key, kind: switch, label: Key, positions: ["off", "on"]}, {id: lever, kind: axis, label: Lever, spring: none}]}
mixes: [{to: o, from: lever, when: key.on}]
outputs: [{id: o, label: Motor, channel: 1}]
claims: [{id: rests, at_start: {output: o, value: 0, within: 2}}]
`
	setup := write(t, "lever.yaml", model)
	stdout, _, code := axtren(t, "start", setup, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"possible": true, "entries": [{"control": "key", "is": "off"}], "fewest": true,
		"undecided": false}`, stdout)
	stdout, _, code = axtren(t, "start", setup)
	require.Zero(t, code)
	require.Equal(t, "Wait for Key at off.\nThat is the least that makes power-on safe, which is proved.\n"+
		"Left unchecked on purpose: Lever. What must rest at power-on rests wherever that was left, and a "+
		"warning that always comes is soon ignored.\n", stdout)
	stdout, _, code = axtren(t, "start", write(t, "always.yaml", strings.ReplaceAll(model,
		", when: key.on", "")), "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"possible": true, "entries": [{"control": "lever", "is": {"from": -2, "to": 2}}],
		"fewest": true, "undecided": false}`, stdout)
	stdout, _, code = axtren(t, "start", write(t, "never.yaml", strings.ReplaceAll(model,
		"from: lever, when: key.on",
		"from: 50")), "--json")
	require.Equal(t, 1, code)
	require.JSONEq(t, `{"possible": false, "entries": [], "fewest": true, "undecided": false}`, stdout)
	_, stderr, code := axtren(t, "start", write(t, "bad.yaml", "format: axtren-setup"))
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "cannot be used")
}

func TestFitSaysWhatCannotBe(t *testing.T) {
	stdout, _, code := axtren(t, "fit", stoat)
	require.Zero(t, code, stdout)
	require.Equal(t, "This transmitter can do all of it, as far as is known.\n", stdout)
	stdout, _, code = axtren(t, "fit", "../../demo/marram.yaml")
	require.Equal(t, 1, code)
	require.Contains(t, stdout, "outputs[0].low: Rudder wants an end of 70.5, and the menu counts in whole "+
		"points.\n    Let Rudder go to 70: differs by up to 0.5 % in Rudder with Right stick, helm at −100.\n")
	stdout, _, code = axtren(t, "fit", "../../demo/marram.yaml", "--json")
	require.Equal(t, 1, code)
	var said struct {
		Fits, Known bool
		Cannot      []struct {
			Rule, Where string
			Ways        []struct {
				Differs struct{ Most float64 }
				Patch   json.RawMessage
			}
		}
	}
	require.NoError(t, json.Unmarshal([]byte(stdout), &said))
	require.False(t, said.Fits)
	require.True(t, said.Known)
	require.Len(t, said.Cannot, 2)
	require.Equal(t, []string{"figure", "outputs[0].low", "block", "logic[3].block"},
		[]string{said.Cannot[0].Rule, said.Cannot[0].Where, said.Cannot[1].Rule, said.Cannot[1].Where})
	require.Equal(t, []float64{0.5, 0}, []float64{said.Cannot[0].Ways[0].Differs.Most,
		said.Cannot[1].Ways[0].Differs.Most})
	require.JSONEq(t, `[{"op": "test", "path": "/outputs/0/id", "value": "rudder"},
		{"op": "add", "path": "/outputs/0/low", "value": -70}]`, string(said.Cannot[0].Ways[0].Patch))

	bare := write(t, "bare.yaml", "format: axtren-setup\nversion: 1\noutputs: [{id: o, channel: 1}]\n")
	stdout, _, code = axtren(t, "fit", bare, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"fits": true, "known": false, "cannot": []}`, stdout)
	stdout, _, _ = axtren(t, "fit", bare)
	require.Equal(t, "Nothing is known of what this transmitter can do.\n", stdout)
	ring := write(t, "ring.yaml",
		"format: axtren-setup\nversion: 1\nmixes: [{to: o, from: o.asked}]\noutputs: [{id: o, channel: 1}]\n")
	_, stderr, code := axtren(t, "fit", ring)
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "o.asked <- o.asked")
}

func TestUnusableInputIsSaidAndExits2(t *testing.T) {
	bad := write(t, "bad.yaml", "format: axtren-setup\nversion: 1\noutputs: [{id: o, channel: 99}]\n")
	late := write(t, "late.csv", "t_s,control,value\n1,drive,0\n0,drive,0\n")
	for _, c := range []struct {
		args []string
		says string
	}{
		{[]string{"simulate", "nowhere.yaml"}, "cannot be opened"},
		{[]string{"simulate", bad}, "line 3: outputs[0].channel: is out of range (it is 99); use 1 to 48"},
		{[]string{"simulate", stoat, "--script", late}, "line 3: the row is earlier"},
		{[]string{"simulate", stoat, "--script", "nowhere.csv"}, "cannot be opened"},
		{[]string{"simulate", stoat, "--for", "-3"}, "--for -3"},
		{[]string{"why", stoat, "nobody"}, "use one of port_track"},
		{[]string{"why", stoat, "pump", "--at", "NaN"}, "--at NaN"},
		{[]string{"jump"}, "unknown command"},
	} {
		_, stderr, code := axtren(t, c.args...)
		require.Equal(t, 2, code, c.args)
		require.Contains(t, stderr, c.says)
	}
}

func TestDemoSaysWhatItCannotUse(t *testing.T) {
	_, stderr, code := axtren(t, "demo", "--port", "70000")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "--port 70000")
	_, stderr, code = axtren(t, "demo", "--port", "0", "--data", "relative/folder")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "must be a full path")
}

func TestPlanSaysWhatGoesWhere(t *testing.T) {
	stdout, _, code := axtren(t, "plan", "../../demo/marram.yaml")
	require.Zero(t, code, stdout)
	require.Contains(t, stdout, "Rudder: channel 1, pin 1. Where it was: nothing is gained by moving it.")
	require.Contains(t, stdout, "Left slider moves Fire monitor lift. It is the only one of its kind")
	require.Contains(t, stdout, "The next best: another ")
	stdout, _, code = axtren(t, "plan", "../../demo/marram.yaml", "--json")
	require.Zero(t, code)
	var said struct {
		Proved, Met bool
		Functions   []struct {
			Of      string
			Channel int
			Leads   []struct{ Pin string }
		}
		Levels   []string
		Points   []int
		Conflict []struct{}
		Search   struct{ Bound, Cost int64 }
		Next     *struct{ Of, What string }
	}
	require.NoError(t, json.Unmarshal([]byte(stdout), &said))
	require.True(t, said.Proved && said.Met)
	require.Len(t, said.Functions, 10)
	second := said.Functions[1]
	require.Equal(t, "port_screw on 2, rx.2", fmt.Sprintf("%s on %d, %s", second.Of, second.Channel,
		second.Leads[0].Pin))
	require.Len(t, said.Levels, len(said.Points))
	require.NotNil(t, said.Conflict)
	require.Equal(t, said.Search.Cost, said.Search.Bound)
	require.NotNil(t, said.Next)

	svg, dot := filepath.Join(t.TempDir(), "leads.svg"), filepath.Join(t.TempDir(), "leads.dot")
	_, _, code = axtren(t, "plan", "../../demo/marram.yaml", "--svg", svg, "--dot", dot)
	require.Zero(t, code)
	for path, begins := range map[string]string{svg: "<svg xmlns=", dot: "digraph leads {"} {
		text, err := os.ReadFile(path)
		require.NoError(t, err)
		require.True(t, strings.HasPrefix(string(text), begins))
		require.Contains(t, string(text), "starboard controller")
	}
	_, stderr, code := axtren(t, "plan", "../../demo/marram.yaml", "--svg", "/nowhere/leads.svg")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "/nowhere/leads.svg")

	few := write(t, "few.yaml", "format: axtren-setup\nversion: 1\ntransmitter: {can: {channels: 1}}\n"+
		"outputs: [{id: a, label: Horn, channel: 1}, {id: b, label: Lamp, channel: 2}]\n")
	stdout, _, code = axtren(t, "plan", few)
	require.Equal(t, 1, code)
	require.Contains(t, stdout, "Not together: Horn has a place. To free it: leave Horn out, or take a receiver")
	require.Contains(t, stdout, "Not together: Lamp has a place.")
	_, _, code = axtren(t, "plan", write(t, "broken.yaml", "format: axtren-setup\nversion: 1\noutputs: [{}]\n"))
	require.Equal(t, 2, code)
}

// TestSame: two models that send the same, two that do not, with what shows it on both, and two that cannot
// be compared.
func TestSame(t *testing.T) {
	const head = "format: axtren-setup\nversion: 1\ntransmitter: {controls: [{id: key, kind: " +
		"switch, positions: " +
		"[rest, press], spring_to: rest}]}\noutputs: [{id: horn, channel: 1}]\nmixes: [{to: horn, " +
		"from: lit}]\nlogic: "
	a := write(t, "a.yaml", head+"[{id: lit, block: toggle, in: key.press}]\n")
	b := write(t, "b.yaml",
		head+"[{id: rise, block: r_trig, in: key.press}, {id: lit, block: sr, set: rise, reset: "+
			"key.rest}]\n")
	stdout, _, code := axtren(t, "same", a, a, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"same": true, "undecided": false, "script": ""}`, stdout)
	stdout, _, code = axtren(t, "same", a, b, "--json")
	require.Equal(t, 1, code)
	require.JSONEq(t, `{"same": false, "undecided": false, "script":
		"t_s,control,value\n0.020,key,press\n0.040,key,rest\n"}`, stdout)
	stdout, _, code = axtren(t, "same", a, b)
	require.Equal(t, 1, code)
	require.Equal(t,
		"Press Button 1.\nThen let go of Button 1.\nThen channel 1 is sent 2000 µs by "+a+" and "+
			"1000 µs by "+b+".\n",
		stdout)
	_, stderr, code := axtren(t, "same", a, b, "--seconds", "-1")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "--seconds -1")
	_, stderr, code = axtren(t, "same", a, write(t, "c.yaml", "format: axtren-setup\nversion: 1\n"))
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "(control key) is not in the second setup; both need the same controls")
}

// TestTranslate: rules in the entries of a set, proved; what the set cannot do; what cannot be asked.
func TestTranslate(t *testing.T) {
	path := write(t, "horn.yaml",
		"format: axtren-setup\nversion: 1\ntransmitter:\n  can: {logic: {count: 4, both_true: "+
			"set}}\n  controls:\n    - {id: key, label: Horn key, kind: switch, positions: [rest, "+
			"press], spring_to: rest}\n"+
			"    - {id: lock, label: Lock, kind: switch, positions: [free, shut]}\noutputs: [{id: "+
			"horn, channel: 1}]\n"+
			"mixes: [{to: horn, from: blow}]\nlogic: [{id: blow, label: Blow, block: rs, set: "+
			"key.press, reset: lock.shut}]\n")
	stdout, _, code := axtren(t, "translate", path, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"same": true, "undecided": false, "rests_on": ["remembers", "negated"], "entries": [
		{"n": 1, "block": "and", "in": ["key.press", "not lock.shut"]},
		{"n": 2, "block": "sr", "set": "1", "reset": "lock.shut"}], "stands_for": {"blow": 2}, "fewest": true,
		"script": ""}`, stdout)
	stdout, _, code = axtren(t, "translate", path)
	require.Zero(t, code)
	require.Contains(t, stdout,
		"1: all of these: Horn key at press and not Lock at shut\n2: latch: set by entry 1, "+
			"reset by Lock at shut\nBlow is entry 2.\nThey do the same, whatever hands do; none does it with fewer.\n")
	require.Contains(t, stdout, "Keyed in one by one as they stand, they would not do the same:\n"+
		"Before power-on: Lock at shut.\nThen press Horn key.\nThen “Blow” is on and should be off.\n")
	stdout, _, code = axtren(t, "translate", path, "--entries", "1", "--json")
	require.Equal(t, 1, code)
	require.Contains(t, stdout, `"same": false`)
	require.Contains(t, stdout, `"script": "t_s,control,value\n`)
	_, stderr, code := axtren(t, "translate", path, "--entries", "-7")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "--entries -7: use 0 to 1024")
}

// TestDiagnoseNamesWhatExplains: two causes that one more look tells apart, nothing wrong, nothing that
// explains it, and looks that do not fit.
func TestDiagnoseNamesWhatExplains(t *testing.T) {
	seen := filepath.Join(t.TempDir(), "seen.json")
	run := func(looks string, more ...string) (string, string, int) {
		require.NoError(t, os.WriteFile(seen, []byte(looks), 0o600))
		return axtren(t, append([]string{"diagnose", "../../demo/marram.yaml", "--seen", seen}, more...)...)
	}
	const exchanged = `[{"hands": {"ahead": 100}, "seen": {"port_controller": "minus", "starboard_controller": "plus"}}]`
	stdout, _, code := run(exchanged)
	require.Zero(t, code)
	require.Equal(t, "The leads of port controller and starboard controller are exchanged. To mend it, "+
		"exchange the two plugs at the receiver, power off.\nPort screw and Starboard screw have each other's "+
		"channel. "+
		"To mend it, give each its own channel in the transmitter.\nTo tell these apart, push Right stick "+
		"all the way towards ahead, and look: 1 is left at most.\n", stdout)
	stdout, _, code = run(exchanged, "--json")
	require.Zero(t, code)
	var said struct {
		Causes [][]struct {
			Kind  string
			Where []string
		}
		Most     int
		Complete bool
		Next     struct {
			Hands        map[string]any
			LeavesAtMost int `json:"leaves_at_most"`
		}
	}
	require.NoError(t, json.Unmarshal([]byte(stdout), &said))
	require.Len(t, said.Causes, 2)
	require.Equal(t, []string{"/outputs/1", "/outputs/2"}, said.Causes[0][0].Where)
	require.Equal(t, "leads_exchanged", said.Causes[1][0].Kind)
	require.True(t, said.Complete)
	require.Equal(t, 3, said.Most)
	require.Equal(t, 1, said.Next.LeavesAtMost)
	stdout, _, code = run(`[]`)
	require.Zero(t, code)
	require.Contains(t, stdout, "Nothing is wrong")
	stdout, _, code = run(`[{"display": {"1": 37}}]`, "--most", "1")
	require.Equal(t, 1, code)
	require.Contains(t, stdout, "Nothing explains it, with 1 fault at most.")
	_, stderr, code := run(`[{"hands": {"lever": 1}}]`)
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "[0].hands.lever: there is no such control")
	_, stderr, code = run(`[]`, "--most", "9")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "--most 9: use 0 to 4")
}

// TestWalk: a lever and a lamp, whole, as a script with its looks and in words; the script is one that
// simulate
// plays, and its trace has the displays of the looks.
func TestWalk(t *testing.T) {
	const model = `
format: axtren-setup
version: 1
transmitter: {controls: [{id: gas, kind: axis, label: Gas lever, plus: ahead}, {id: lit, kind: switch, label: Lamp switch, positions: ["off", "on"]}]}
mixes: [{to: motor, from: gas}, {to: lamp, from: lit}]
outputs: [{id: motor, label: Motor, channel: 1, low: -80, loss: {mode: preset, value: 0}}, {id: lamp, label: Lamp, channel: 2}]
receivers: [{id: rx, loss_after_s: 0.5, failsafe: {can: [hold, preset], otherwise: hold},
  pins: [{pin: 1, channel: 1}, {pin: 2, channel: 2}]}]
devices: [{id: esc, label: controller, on: rx.1, kind: esc}, {id: bulb, label: bulb, on: rx.2, kind: lamp}]
`
	setup := write(t, "lever.yaml", model)
	stdout, _, code := axtren(t, "walk", setup, "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"script": "t_s,control,value\n0.020,gas,-100\n0.020,lit,on\n1.020,link,down\n3.040,link,up\n",
		"looks": [{"t_s": 3.02, "display": {"1": -80, "2": 100}, "devices": {"esc": "still", "bulb": "on"}},
			{"t_s": 4.54, "display": {"1": -80, "2": 100}, "devices": {"esc": "minus", "bulb": "on"}}],
		"faults": {"of": 12, "seen": 12, "not_seen": []}, "fewest": 2}`, stdout)
	stdout, _, code = axtren(t, "walk", setup)
	require.Zero(t, code)
	for _, line := range []string{"1. Push Gas lever all the way towards −100. Put Lamp switch to on.",
		"   Motor: turns backward, at 79; channel 1 reads −80.", "2. Switch the transmitter off.",
		"   Motor: stands still.", "4. Switch the model off.", "   Nothing moves, and nothing is on.",
		"Every single fault of this setup would be seen: 12.",
		"5 steps are as few as were found; no walk has fewer than 4: the signal lost and back, " +
			"the model off and on."} {
		require.Contains(t, stdout, line+"\n")
	}
	require.NotContains(t, stdout, "Hands off.")
	stdout, _, code = axtren(t, "walk", setup, "--whole")
	require.Zero(t, code)
	require.Contains(t, stdout, "1. Hands off.\n   Nothing moves.\n")
	require.Contains(t, stdout, "Push Gas lever all the way towards ahead.\n")
	require.Regexp(t, `\n\d+ steps in all\.\n$`, stdout)
	require.NotContains(t, stdout, "fewer")
	_, stderr, code := axtren(t, "walk", setup, "--seconds", "-1")
	require.Equal(t, 2, code)
	require.Contains(t, stderr, "--seconds")

	stdout, _, code = axtren(t, "walk", write(t, "none.yaml", "format: axtren-setup\nversion: 1\n"), "--json")
	require.Zero(t, code)
	require.JSONEq(t, `{"script": "t_s,control,value\n0.020,link,down\n1.540,link,up\n",
		"looks": [{"t_s": 1.52, "display": {}, "devices": {}}, {"t_s": 3.04, "display": {}, "devices": {}}],
		"faults": {"of": 0, "seen": 0, "not_seen": []}, "fewest": 2}`, stdout)
}
