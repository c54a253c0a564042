package web

import (
	"context"
	"encoding/json"
	"fmt"
	"net"
	"runtime"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"
	"github.com/stretchr/testify/require"

	"axtren/app/archive"
	"axtren/app/contract"
)

func (s *site) act(m contract.Model, revision int, body string) (int, contract.Model, contract.Problem) {
	s.t.Helper()
	resp, text := s.ask("POST", "/api/models/"+m.Id.String()+"/acts", body, "Content-Type",
		"application/json", "If-Match", fmt.Sprintf("%q", fmt.Sprint(revision)))
	if resp.StatusCode >= 400 {
		return resp.StatusCode, contract.Model{}, s.problem(text)
	}
	return resp.StatusCode, s.model(text), contract.Problem{}
}

func TestActsChangeWhichPartsThereAre(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	_, now, _ := s.act(m, 1, `{"act":"add","part":"outputs"}`)
	require.Equal(t, "outputs/line_1", *now.Part)
	require.Equal(t, "New function was added", *now.Undo)
	_, now, _ = s.act(m, 2, `{"act":"rename","part":"outputs/line_1","to":"fan"}`)
	require.Equal(t, "New function has the short name fan now", *now.Undo)
	_, now, _ = s.act(m, 3, `{"act":"move","part":"outputs/fan","by":-9}`)
	require.Equal(t, "New function was moved among the others", *now.Undo)
	_, now, _ = s.act(m, 4, `{"act":"exchange","part":"outputs/fan","to":"outputs/horn"}`)
	require.Equal(t, "New function and Horn have exchanged their channels", *now.Undo)

	status, _, p := s.act(m, 5, `{"act":"remove","part":"controls/turn"}`)
	require.Equal(t, 422, status)
	require.Equal(t, "mixes[1]", (*p.Errors)[0].Path)
	_, now, _ = s.act(m, 5, `{"act":"remove","part":"controls/turn","along":true}`)
	require.Equal(t, "Control Right stick, right was removed, with what used it", *now.Undo)
	_, now, _ = s.act(m, 6, `{"act":"moved","part":"outputs/fan","kind":"toggle","moved":["top.press"]}`)
	require.Equal(t, "Top button at press switches New function on, and off again", *now.Undo)
	_, now, _ = s.act(m, 7, `{"act":"instead","part":"controls/top","of":"fan","moved":["lights.lit"]}`)
	require.Equal(t, "Lamp switch in the place of Top button: for New function", *now.Undo)
	for body, says := range map[string]string{
		`{"act":"moved","part":"outputs/fan","kind":"cut","moved":["drive"]}`: "does not fit",
		`{"act":"moved","part":"outputs/fan","kind":"cut"}`:                   "does not fit",
		`{"act":"instead","part":"controls/top","of":"fan"}`:                  "does not fit",
		`{"act":"move","part":"outputs/fan","by":0}`:                          "Nothing would change",
		`{"act":"jump","part":"outputs/fan"}`:                                 "does not fit",
		`{"act":"rename","part":"outputs/fan","to":"Großes F"}`:               "does not fit",
		`{"act":"add","part":"claims"}`:                                       "does not fit", // of which kind?
		`{"act":"add","part":"outputs","color":"red"}`:                        "not what the contract asks for",
		`{"act"`: "not what the contract asks for",
	} {
		status, _, p := s.act(m, 8, body)
		require.GreaterOrEqual(t, status, 409, body)
		require.Contains(t, p.Title, says, body)
	}
	status, _, _ = s.act(m, 3, `{"act":"add","part":"outputs"}`)
	require.Equal(t, 412, status)
}

// TestAFieldIsSet by where it stands and its name: the server knows what the document gets.
func TestAFieldIsSet(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	status, now, _ := s.act(m, 1, `{"act":"set","part":"out/starboard_track/ends","field":"low","value":-80}`)
	require.Equal(t, 200, status)
	require.Equal(t, 2, now.Revision)
	require.Equal(t, "Right track: “low end” changed from −96 to −80", *now.Undo)
	status, _, p := s.act(m, 2, `{"act":"set","part":"out/starboard_track/ends","field":"low","value":-80}`)
	require.Equal(t, 409, status)
	require.Equal(t, "Nothing would change", p.Title)
	_, now, _ = s.act(m, 2, `{"act":"set","part":"outputs/horn","field":"notes","value":"loud"}`)
	require.Equal(t, 3, now.Revision)
	for body, where := range map[string][2]string{
		`{"act":"set","part":"out/starboard_track/ends","field":"low","value":5}`: {"outputs[1].low",
			"below centre"},
		`{"act":"set","part":"out/starboard_track/ends","field":"lower","value":5}`: {"out/starboard_track/ends", "no such field"},
		`{"act":"set","part":"out/nobody/ends","field":"low","value":5}`: {"out/nobody/ends",
			"no such field"},
		`{"act":"set","part":"outputs/nobody","field":"low","value":5}`: {"outputs/nobody",
			"no such part"},
		`{"act":"set","part":"outputs/horn","field":"low","value":true}`: {"outputs[7].low",
			"is not a number"},
		`{"act":"set","part":"outputs/horn","field":"low"}`: {"outputs[7].low",
			"is not a number"},
		`{"act":"set","part":"outputs/horn","value":5}`: {"field", "is missing"},
	} {
		status, _, p := s.act(m, 3, body)
		require.Equal(t, 422, status, body)
		require.Equal(t, where[0], (*p.Errors)[0].Path, body)
		require.Contains(t, (*p.Errors)[0].Message, where[1], body)
		require.NotEmpty(t, (*p.Errors)[0].Remedy)
	}
}

// TestAFieldIsTried against what is kept, however far the trial has gone.
func TestAFieldIsTried(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{"drive": 100.0})
	p.until(kind(contract.FromWhole))
	ends, low := "out/starboard_track/ends", "low"
	try := func(id int64, value any) {
		p.say(contract.Asked{T: contract.ToTry, Id: &id, Part: &ends, Field: &low, Value: value})
	}
	try(1, -80.0)
	require.Equal(t, 1100.0, pulse(p.until(kind(contract.FromWhole)), 1))
	try(2, -90.0)
	require.Equal(t, 1050.0, pulse(p.until(kind(contract.FromWhole)), 1))
	try(3, -96.0) // what is kept
	tried := p.until(kind(contract.FromWhole))
	require.Equal(t, 1020.0, pulse(tried, 1))
	require.Equal(t, 1, tried.Model.Revision)
	try(4, "far")
	refused := p.until(kind(contract.FromRefused))
	require.Equal(t, "outputs[1].low", (*refused.Problem.Errors)[0].Path)
	gone := "lower"
	id := int64(5)
	p.say(contract.Asked{T: contract.ToTry, Id: &id, Part: &ends, Field: &gone, Value: 3.0})
	require.Contains(t, (*p.until(kind(contract.FromRefused)).Problem.Errors)[0].Message, "no such field")
}

func TestFormsTextsAndDifferences(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	path := "/api/models/" + m.Id.String()
	resp, body := s.ask("GET", path+"/form?part=mixes/port_turn", "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	require.Contains(t, string(body), "combined with the others")
	resp, body = s.ask("GET", path+"/form?part=mixes/nobody", "")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "no such part")

	_, yaml := s.ask("GET", path+"/export", "")
	changed := strings.Replace(string(yaml), "low: -70", "low: -71", 1)
	require.NotEqual(t, string(yaml), changed)
	put := func(text string, revision int) (int, []byte) {
		resp, body := s.ask("PUT", path+"/text", text, "If-Match", fmt.Sprintf("%q", fmt.Sprint(revision)),
			"Content-Type", "application/octet-stream")
		return resp.StatusCode, body
	}
	status, body := put(changed, 1)
	require.Equal(t, 200, status, "%s", body)
	require.Equal(t, "Blade lift: “low end” changed from −70 to −71", *s.model(body).Undo)
	status, body = put(strings.Replace(changed, "low: -71", "low: -710", 1), 2)
	require.Equal(t, 422, status)
	fault := (*s.problem(body).Errors)[0]
	require.Equal(t, "outputs[2].low", fault.Path)
	require.Contains(t, strings.Split(changed, "\n")[fault.Line-1], "-71",
		"the line of the text that was sent")
	status, _ = put(changed, 2)
	require.Equal(t, 409, status, "nothing would change")
	status, _ = put(changed, 1)
	require.Equal(t, 412, status)

	_, body = s.ask("GET", path+"/differences?from=1&to=2", "")
	var d contract.Differences
	require.NoError(t, json.Unmarshal(body, &d))
	require.Equal(t, "Blade lift: “low end” changed from −70 to −71.", d.Words)
	kinds := map[string][]string{}
	for _, line := range d.Lines {
		kinds[string(line.Kind)] = append(kinds[string(line.Kind)], strings.TrimSpace(line.Text))
	}
	require.Equal(t, []string{"low: -70"}, kinds["gone"])
	require.Equal(t, []string{"low: -71"}, kinds["new"])
	_, old := s.ask("GET", path+"/export?revision=1", "")
	require.Equal(t, string(yaml), string(old))
	resp, _ = s.ask("GET", path+"/differences?from=1&to=9", "")
	require.Equal(t, 404, resp.StatusCode)
}

func TestTheYardOverTheAPI(t *testing.T) {
	s := newSite(t)
	_, body := s.ask("GET", "/api/kinds", "")
	require.Contains(t, string(body), "Tracked model")
	resp, body := s.ask("POST", "/api/kinds/boat", "")
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	boat := s.model(body)
	resp, _ = s.ask("POST", "/api/kinds/spacecraft", "")
	require.Equal(t, 422, resp.StatusCode)
	resp, body = s.ask("POST", "/api/models/"+boat.Id.String()+"/copy", "")
	require.Equal(t, 201, resp.StatusCode)
	require.Equal(t, "New boat copy", s.model(body).Name)
	resp, _ = s.ask("DELETE", "/api/models/"+boat.Id.String(), "")
	require.Equal(t, 204, resp.StatusCode)
	resp, _ = s.ask("GET", "/api/models/"+boat.Id.String(), "")
	require.Equal(t, 404, resp.StatusCode)
	resp, body = s.ask("POST", "/api/models/"+boat.Id.String()+"/restore", "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	_, body = s.ask("GET", "/api/models", "")
	var list []contract.Model
	require.NoError(t, json.Unmarshal(body, &list))
	require.Len(t, list, 2)
	require.NotNil(t, list[0].Stands)

	script := "t_s,control,value\n0,right_up,50\n"
	path := "/api/models/" + boat.Id.String() + "/recordings"
	resp, body = s.ask("POST", path+"?name=out%20and%20back&exact=true", script)
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	var kept contract.Recording
	require.NoError(t, json.Unmarshal(body, &kept))
	resp, body = s.ask("POST", path+"?name=bad", "t_s,control,value\n0,sail,50\n")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "sail")
	_, body = s.ask("GET", path+"/"+kept.Id.String(), "")
	require.Equal(t, script, string(body))

	_, zip := s.ask("GET", "/api/archive", "")
	files, err := archive.Open(zip)
	require.NoError(t, err)
	require.Equal(t, 2, files.Len())
	require.Equal(t, "out and back", files.Read(0).Recordings[0].Name)
	resp, body = s.ask("POST", "/api/archive", string(zip))
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	var outcomes []contract.Brought
	require.NoError(t, json.Unmarshal(body, &outcomes))
	require.Len(t, outcomes, 2)
	require.NotNil(t, outcomes[1].Model)
	resp, _ = s.ask("POST", "/api/archive", "no zip")
	require.Equal(t, 422, resp.StatusCode)

	resp, _ = s.ask("DELETE", path+"/"+kept.Id.String(), "")
	require.Equal(t, 204, resp.StatusCode)
	resp, _ = s.ask("DELETE", path+"/"+kept.Id.String(), "")
	require.Equal(t, 404, resp.StatusCode)
}

func TestTheGamepadIsKeptWithTheTransmitter(t *testing.T) {
	s := newSite(t)
	path := "/api/gamepads?set=Desk%20set"
	_, body := s.ask("GET", path, "")
	require.JSONEq(t, "{}", string(body))
	mapping := `{"drive":{"axis":3,"turned":true},"horn":{"button":1}}`
	resp, body := s.ask("PUT", path, mapping, "Content-Type", "application/json")
	require.Equal(t, 204, resp.StatusCode, "%s", body)
	resp, _ = s.ask("PUT", path, strings.Replace(mapping, "3", "2", 1), "Content-Type", "application/json")
	require.Equal(t, 204, resp.StatusCode)
	_, body = s.ask("GET", path, "")
	require.JSONEq(t, strings.Replace(mapping, "3", "2", 1), string(body))
	_, body = s.ask("GET", "/api/gamepads?set=other", "")
	require.JSONEq(t, "{}", string(body))
	resp, _ = s.ask("PUT", path, `{"drive":{"wheel":3}}`, "Content-Type", "application/json")
	require.Equal(t, 422, resp.StatusCode)
}

// TestARecordingPlaysOnTheBench: what plays is shown instead of the hands, an
// edit is heard in it, and a lever takes over.
func TestARecordingPlaysOnTheBench(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	_, body := s.ask("POST", "/api/models/"+m.Id.String()+"/recordings?name=x",
		"t_s,control,value\n0,drive,100\n")
	var kept contract.Recording
	require.NoError(t, json.Unmarshal(body, &kept))
	p := s.open(m.Id, map[string]any{})
	bench := p.until(kind(contract.FromWhole))
	at := bench.View.Lines[0].Pulse
	value := func(want float64) func(contract.Told) bool {
		return func(f contract.Told) bool {
			if f.T == contract.FromWhole {
				return (*f.Values)[at] == want
			}
			for i, place := range *orNone(f.At) {
				if place == at && (*f.V)[i] == want {
					return true
				}
			}
			return false
		}
	}
	id, run, seek := kept.Id.String(), 0.0, int64(5)
	p.say(contract.Asked{T: contract.ToPlay, Recording: &id, Run: &run, Seek: &seek})
	p.until(value(1970))
	resp, body := s.ask("PATCH", "/api/models/"+m.Id.String(),
		`[{"op":"test","path":"/outputs/0/id","value":"port_track"},{"op":"add","path":"/outputs/0/high","value":50}]`, "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	p.until(value(1750))
	p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": 0.0}})
	p.until(value(1500))
	gone := "00000000-0000-4000-8000-000000000000"
	p.say(contract.Asked{T: contract.ToPlay, Recording: &gone})
	said := p.until(func(f contract.Told) bool { return f.T == contract.FromPlayed && f.Play.Why != nil })
	require.Contains(t, *said.Play.Why, "no such recording")
}

func orNone(at *[]int) *[]int {
	if at == nil {
		return &[]int{}
	}
	return at
}

// TestATrialWhosePartIsGone: another page takes out what is being tried; the
// bench says so and plays what is kept.
func TestATrialWhosePartIsGone(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{})
	p.until(kind(contract.FromWhole))
	id, patch := int64(1), contract.Patch(
		`[{"op":"test","path":"/outputs/8/id","value":"winch"},{"op":"add","path":"/outputs/8/low","value":-44}]`)
	p.say(contract.Asked{T: contract.ToTry, Id: &id, Patch: &patch})
	p.until(func(f contract.Told) bool { return f.T == contract.FromWhole && *f.Trying == 1 })
	status, _, _ := s.act(m, 1, `{"act":"remove","part":"outputs/winch","along":true}`)
	require.Equal(t, 200, status)
	after := p.until(func(f contract.Told) bool { return f.T == contract.FromWhole && f.Model.Revision == 2 })
	require.Zero(t, *after.Trying)
	require.Len(t, after.View.Lines, 9)
	p.until(kind(contract.FromRefused))
}

// TestAPlotIsTheLineItself: the points of a plot are what the line gives there.
func TestAPlotIsTheLineItself(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{"turn": -25.0})
	p.until(kind(contract.FromWhole))
	control, output := "drive", "port_track"
	p.say(contract.Asked{T: contract.ToPlot, Control: &control, Output: &output})
	plot := p.until(kind(contract.FromPlot))
	require.Len(t, *plot.Points, 101)
	require.Equal(t, []float64{60, 30.4, 1652}, func() []float64 {
		point := (*plot.Points)[80]
		return []float64{point[0], float64(int(point[1]*10+0.5)) / 10, point[2]}
	}())
	p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"turn": 0.0}})
	again := p.until(kind(contract.FromPlot))
	require.NotEqual(t, (*plot.Points)[80], (*again.Points)[80], "another lever bends the line")
}

// TestFiftyTabsOnOneModel: an edit reaches all of them, and each plays its own hands.
func TestFiftyTabsOnOneModel(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	tabs := make([]*page, 50)
	places := make([]int, len(tabs))
	for i := range tabs {
		tabs[i] = s.open(m.Id, map[string]any{"drive": float64(2 * i)})
		places[i] = tabs[i].until(kind(contract.FromWhole)).View.Lines[0].Pulse
	}
	resp, _ := s.ask("PATCH", "/api/models/"+m.Id.String(), low("-80"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode)
	seen := map[float64]bool{}
	for i, p := range tabs {
		after := p.until(func(f contract.Told) bool {
			return f.T == contract.FromWhole &&
				f.Model.Revision == 2
		})
		seen[(*after.Values)[places[i]]] = true
	}
	require.Len(t, seen, 50, "each has its own levers")
}

// TestSocketsThatNeverRead hold nobody else up, and are given up in the end.
func TestSocketsThatNeverRead(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	for range 20 {
		idle := s.open(m.Id, map[string]any{})
		for n := range 50 {
			idle.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": float64(n)}})
		}
	}
	p := s.open(m.Id, map[string]any{})
	p.until(kind(contract.FromWhole))
	slowest := time.Duration(0)
	for n := range 50 {
		start := time.Now()
		p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": float64(n%2*50 + n)}})
		p.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == p.n })
		slowest = max(slowest, time.Since(start))
	}
	require.Less(t, slowest, time.Second, "the others are unharmed")
}

// TestAThousandConnections: those that say nothing and those that open more
// benches than there is room for are bounded, the rest unharmed.
func TestAThousandConnections(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{})
	p.until(kind(contract.FromWhole))
	url := fmt.Sprintf("%s/api/models/%s/live", strings.Replace(s.URL, "http", "ws", 1), m.Id)
	before := runtime.NumGoroutine()
	var mu sync.Mutex
	var open []*websocket.Conn
	full := 0
	var all sync.WaitGroup
	for range 20 {
		all.Go(func() {
			for range 50 {
				ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
				conn, resp, err := websocket.Dial(ctx, url, nil)
				cancel()
				mu.Lock()
				if err == nil {
					open = append(open, conn)
				} else if resp != nil && resp.StatusCode == 503 {
					full++
				}
				mu.Unlock()
			}
		})
	}
	all.Wait()
	require.Equal(t, 399, len(open), "one is ours already")
	require.Equal(t, 601, full)
	p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": 60.0}})
	p.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == p.n })
	for _, conn := range open {
		conn.CloseNow()
	}
	require.Eventually(t, func() bool { return runtime.NumGoroutine() < before+50 }, 15*time.Second,
		50*time.Millisecond, "nothing is left of them")

	var silent []net.Conn // plain connections that say nothing
	for range 300 {
		conn, err := net.Dial("tcp", s.Listener.Addr().String())
		require.NoError(t, err)
		silent = append(silent, conn)
	}
	resp, _ := s.ask("GET", "/api/models", "")
	require.Equal(t, 200, resp.StatusCode)
	for _, conn := range silent {
		conn.Close()
	}
}

// TestBodiesTooLarge are refused at their limit, whatever the path.
func TestBodiesTooLarge(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	for path, size := range map[string]int{"/api/models": 1<<20 + 1, "/api/archive": 32<<20 + 1,
		"/api/models/" + m.Id.String() + "/recordings?name=x": 8<<20 + 1} {
		resp, body := s.ask("POST", path, strings.Repeat("#", size))
		require.Equal(t, 413, resp.StatusCode, "%s %s", path, body)
	}
}

// TestMovementsThatOvertake: of two movements of one lever the later counts,
// whichever comes first.
func TestMovementsThatOvertake(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{})
	bench := p.until(kind(contract.FromWhole))
	say := func(n int64, drive float64) {
		msg := contract.Asked{T: contract.ToHands, N: &n, Set: &map[string]any{"drive": drive}}
		require.NoError(t, wsjson.Write(t.Context(), p.conn, msg))
	}
	say(30, 60)
	say(20, 10) // late
	say(29, 20)
	frame := p.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == 30 })
	for i, at := range *frame.At {
		if at == bench.View.Controls[2].Value {
			require.Equal(t, 60.0, (*frame.V)[i])
		}
	}
	say(31, 61)
	for {
		frame = p.until(kind(contract.FromFrame))
		for i, at := range *frame.At {
			if at == bench.View.Controls[2].Value {
				require.Contains(t, []float64{60, 61}, (*frame.V)[i], "no lever goes back")
			}
		}
		if *frame.N == 31 {
			return
		}
	}
}

// TestAStillIsThePictureAtRest: with its figures as the stage gives them for a model that was
// just switched on; a model that is not there has none.
func TestAStillIsThePictureAtRest(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	resp, text := s.ask("GET", "/api/models/"+m.Id.String()+"/still", "")
	require.Equal(t, 200, resp.StatusCode)
	var still contract.Still
	require.NoError(t, json.Unmarshal(text, &still))
	require.Equal(t, "above", still.Picture.View)
	require.Equal(t, "tracked", still.Picture.Parts[0].Shape)
	where := still.Picture.Where
	require.Len(t, still.Values, where.First+where.Each*len(still.Picture.Parts))
	for i, part := range still.Picture.Parts {
		if part.Part == "track" {
			require.Zero(t, still.Values[where.First+where.Each*i], part.Label)
		}
	}
	require.Equal(t, 1.0, still.Values[where.Free], "all is let go of")
	resp, text = s.ask("GET", "/api/models/00000000-0000-4000-8000-000000000000/still", "")
	require.Equal(t, 404, resp.StatusCode)
	require.Contains(t, s.problem(text).Title, "no such model")
}
