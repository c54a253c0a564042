package web

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/coder/websocket"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/require"

	"axtren/app/cluster/clustertest"
	"axtren/app/contract"
	"axtren/app/live"
	"axtren/app/store"
	"axtren/core/lines"
	"axtren/core/setup"
	"axtren/core/signal"
	"axtren/core/stage"
)

func TestMain(m *testing.M) { clustertest.Main(m) }

type site struct {
	*httptest.Server
	t        *testing.T
	store    *store.Store
	database string // its URL
	edits    int
}

func newSite(t *testing.T) *site {
	database := clustertest.URL(t)
	s, err := store.Open(t.Context(), database)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	server := httptest.NewUnstartedServer(nil)
	host := server.Listener.Addr().String()
	server.Config.Handler, err = New(Config{Store: s, Hub: live.NewHub(t.Context()),
		Hosts: []string{host, strings.Replace(host, "127.0.0.1", "localhost", 1)}})
	require.NoError(t, err)
	server.Start()
	t.Cleanup(server.Close)
	return &site{server, t, s, database, 0}
}

// exec changes the database behind the back of the server.
func (s *site) exec(query string, values ...any) {
	s.t.Helper()
	db, err := pgx.Connect(s.t.Context(), s.database)
	require.NoError(s.t, err)
	defer db.Close(s.t.Context())
	_, err = db.Exec(s.t.Context(), query, values...)
	require.NoError(s.t, err)
}

func stoat(t *testing.T) string {
	text, err := os.ReadFile("../../demo/stoat.yaml")
	require.NoError(t, err)
	return string(text)
}

// ask sends a request as the page does and checks the answer against the
// contract with kin-openapi.
func (s *site) ask(method, path, body string, header ...string) (*http.Response, []byte) {
	s.t.Helper()
	r, err := http.NewRequestWithContext(s.t.Context(), method, s.URL+path, strings.NewReader(body))
	require.NoError(s.t, err)
	s.edits++
	r.Header.Set("Axtren-Page", "test")
	r.Header.Set("Axtren-Edit", fmt.Sprint(s.edits))
	switch method {
	case "PATCH":
		r.Header.Set("Content-Type", "application/json-patch+json")
	case "POST":
		r.Header.Set("Content-Type", "application/octet-stream")
	}
	for i := 0; i+1 < len(header); i += 2 {
		if header[i] == "Host" {
			r.Host = header[i+1]
		}
		r.Header.Set(header[i], header[i+1])
	}
	resp, err := http.DefaultTransport.RoundTrip(r)
	require.NoError(s.t, err)
	defer resp.Body.Close()
	text, err := io.ReadAll(resp.Body)
	require.NoError(s.t, err)
	if resp.StatusCode >= 400 {
		require.Equal(s.t, "application/problem+json", resp.Header.Get("Content-Type"), "%s", text)
	}
	s.holds(r, resp, text)
	return resp, text
}

func (s *site) holds(r *http.Request, resp *http.Response, body []byte) {
	s.t.Helper()
	router, err := routes()
	require.NoError(s.t, err)
	route, params, err := router.FindRoute(r)
	if err != nil {
		return // not part of the contract
	}
	in := &openapi3filter.RequestValidationInput{Request: r, PathParams: params, Route: route}
	out := &openapi3filter.ResponseValidationInput{RequestValidationInput: in, Status: resp.StatusCode,
		Header: resp.Header}
	out.SetBodyBytes(body)
	if resp.StatusCode < 400 && !strings.Contains(resp.Header.Get("Content-Type"), "json") ||
		strings.Contains(r.URL.Path, "export") {
		return // a file
	}
	require.NoError(s.t, openapi3filter.ValidateResponse(s.t.Context(), out), "%s", body)
}

func (s *site) model(text []byte) contract.Model {
	var m contract.Model
	require.NoError(s.t, json.Unmarshal(text, &m), "%s", text)
	return m
}

func (s *site) problem(text []byte) contract.Problem {
	var p contract.Problem
	require.NoError(s.t, json.Unmarshal(text, &p), "%s", text)
	return p
}

func (s *site) bring(text string) contract.Model {
	s.t.Helper()
	resp, body := s.ask("POST", "/api/models", text)
	require.Equal(s.t, 201, resp.StatusCode, "%s", body)
	return s.model(body)
}

func low(v string) string {
	return `[{"op":"test","path":"/outputs/1/id","value":"starboard_track"},{"op":"add","path":"/outputs/1/low","value":` + v + `}]`
}

func TestFromImportToExport(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	require.Equal(t, "Stoat", m.Name)
	again := s.bring(stoat(t))
	require.NotEqual(t, m.Id, again.Id, "import always makes a new model")
	_, body := s.ask("GET", "/api/models", "")
	var list []contract.Model
	require.NoError(t, json.Unmarshal(body, &list))
	require.Len(t, list, 2)

	want, err := setup.ReadYAML([]byte(stoat(t)))
	require.NoError(t, err)
	for format, read := range map[string]func([]byte) (*setup.Document, error){"yaml": setup.ReadYAML,
		"json": setup.ReadJSON} {
		resp, body := s.ask("GET", fmt.Sprintf("/api/models/%s/export?format=%s", m.Id, format), "")
		require.Equal(t, 200, resp.StatusCode)
		require.Contains(t, resp.Header.Get("Content-Disposition"), "stoat-r1."+format)
		back, err := read(body)
		require.NoError(t, err)
		require.True(t, want.Tree.Equal(back.Tree), "nothing is lost on the way through")
	}
	resp, body := s.ask("GET", fmt.Sprintf("/api/models/%s/sheet.csv", m.Id), "")
	require.Equal(t, 200, resp.StatusCode)
	require.Contains(t, string(body), `Ends,2,"Right track, stick forward",96,1020,`)
	resp, _ = s.ask("GET", fmt.Sprintf("/api/models/%s/sheet", m.Id), "")
	require.Equal(t, 200, resp.StatusCode)
	resp, body = s.ask("GET", "/api/schema", "")
	require.Equal(t, 200, resp.StatusCode)
	require.JSONEq(t, string(setup.Schema()), string(body))
}

func TestEditsAreConditional(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	resp, body := s.ask("PATCH", at, low("-80"))
	require.Equal(t, 428, resp.StatusCode, "%s", body)
	resp, body = s.ask("PATCH", at, low("-80"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	require.Equal(t, `"2"`, resp.Header.Get("ETag"))
	require.Equal(t, "Right track: “low end” changed from −96 to −80", *s.model(body).Undo)
	resp, body = s.ask("PATCH", at, low("-70"), "If-Match", `"1"`)
	require.Equal(t, 412, resp.StatusCode)
	require.Equal(t, "Right track: “low end” changed from −96 to −80", (*s.problem(body).Since)[0].Words)
	resp, body = s.ask("PATCH", at, low("-80"), "If-Match", `"1"`, "Axtren-Edit", fmt.Sprint(s.edits-1))
	require.Equal(t, 200, resp.StatusCode, "sent again: %s", body)
	require.Equal(t, 2, s.model(body).Revision)
	resp, body = s.ask("PATCH", at, low("5"), "If-Match", `"2"`)
	require.Equal(t, 422, resp.StatusCode)
	fault := (*s.problem(body).Errors)[0]
	require.Equal(t, "outputs[1].low", fault.Path)
	require.NotEmpty(t, fault.Remedy)
	resp, _ = s.ask("POST", at+"/undo", "", "If-Match", `"2"`)
	require.Equal(t, 200, resp.StatusCode)
	resp, body = s.ask("POST", at+"/redo", "", "If-Match", `"3"`)
	require.Equal(t, 200, resp.StatusCode)
	require.Nil(t, s.model(body).Redo)
	resp, _ = s.ask("POST", at+"/redo", "", "If-Match", `"4"`)
	require.Equal(t, 409, resp.StatusCode)
	resp, body = s.ask("GET", at+"/revisions?after=1", "")
	require.Equal(t, 200, resp.StatusCode)
	var revs []contract.Revision
	require.NoError(t, json.Unmarshal(body, &revs))
	require.Len(t, revs, 3)
}

func TestRequestsOutsideTheContract(t *testing.T) {
	s := newSite(t)
	none := "/api/models/00000000-0000-0000-0000-000000000000"
	for _, c := range []struct {
		method, path, body string
		header             []string
		status             int
	}{
		{"GET", none, "", nil, 404}, {"GET", "/api/models/zzz", "", nil, 400},
		{"GET", "/api/nothing", "", nil, 404},
		{"DELETE", "/api/models", "", nil, 405}, {"PATCH", none, low("1"), []string{"If-Match", `"1"`}, 404},
		{"PATCH", none, low("1"), []string{"If-Match", "newest"}, 400},
		{"POST", "/api/models", "a: b", []string{"Axtren-Page", ""}, 400},
		{"GET", "/api/models", "", []string{"Host", "evil.example"}, 421},
		{"GET", "/", "", []string{"Host", "evil.example"}, 421},
		{"GET", "/api/models", "", []string{"Origin", "http://evil.example"}, 403},
		{"GET", "/api/models", "", []string{"Origin", "null"}, 403},
		{"POST", "/api/models", stoat(t), []string{"Origin", "https://" + s.Listener.Addr().String()}, 403},
		{"GET", "/api/models", "", []string{"Sec-Fetch-Site", "cross-site"}, 403},
		{"GET", none + "/live", "", []string{"Origin", "http://evil.example", "Connection", "Upgrade",
			"Upgrade", "websocket"}, 403},
		{"POST", "/api/models", strings.Repeat("x", 1<<20+1), nil, 413},
		{"POST", "/api/models", "", nil, 422}, {"POST", "/api/models", strings.Repeat("[", 1<<20), nil, 422},
		{"POST", "/api/models?format=json",
			`{"format":"axtren-setup","version":1,"mixes":[{"to":"nowhere","from":1}]}`, nil, 422},
		{"GET", "/assets/none.js", "", nil, 404},
	} {
		start := time.Now()
		resp, body := s.ask(c.method, c.path, c.body, c.header...)
		require.Equal(t, c.status, resp.StatusCode, "%s %s %v: %s", c.method, c.path, c.header, body)
		require.Less(t, time.Since(start), time.Second)
		require.NotEmpty(t, s.problem(body).Title)
	}
	_, body := s.ask("GET", "/api/models", "")
	require.Equal(t, "[]", string(bytes.TrimSpace(body)), "nothing was stored")
}

// page is one WebSocket, as the page has it.
type page struct {
	t    *testing.T
	conn *websocket.Conn
	n    int64
	all  contract.Told // all that is on the bench, as it was told and changed since
}

func (s *site) open(id fmt.Stringer, hands map[string]any) *page {
	s.t.Helper()
	conn, _, err := websocket.Dial(s.t.Context(), fmt.Sprintf("%s/api/models/%s/live",
		strings.Replace(s.URL, "http", "ws", 1), id), nil)
	require.NoError(s.t, err)
	conn.SetReadLimit(1 << 20)
	s.t.Cleanup(func() { conn.CloseNow() })
	p := &page{t: s.t, conn: conn}
	p.say(contract.Asked{T: contract.ToHello, Set: &hands})
	return p
}

func (p *page) say(msg contract.Asked) {
	p.t.Helper()
	if msg.T == contract.ToHands || msg.T == contract.ToHello {
		p.n++
		n := p.n
		msg.N = &n
	}
	text, err := json.Marshal(msg)
	require.NoError(p.t, err)
	fitsAs(p.t, "ToBench", text)
	require.NoError(p.t, p.conn.Write(p.t.Context(), websocket.MessageText, text))
}

// until reads messages until one is what want accepts.
func (p *page) until(want func(contract.Told) bool) contract.Told {
	p.t.Helper()
	ctx, cancel := context.WithTimeout(p.t.Context(), 5*time.Second)
	defer cancel()
	for {
		_, text, err := p.conn.Read(ctx)
		require.NoError(p.t, err)
		fits(p.t, text)
		var msg contract.Told
		require.NoError(p.t, json.Unmarshal(text, &msg))
		msg = p.merged(msg)
		if want(msg) {
			return msg
		}
	}
}

// merged makes of what changed on the bench all that is on it, as a page does.
func (p *page) merged(msg contract.Told) contract.Told {
	switch msg.T {
	case contract.FromWhole:
		p.all = msg
	case contract.FromFrame, contract.FromChanged:
		values := slices.Clone(*p.all.Values)
		for i, at := range *msg.At {
			values[at] = (*msg.V)[i]
		}
		p.all.Values = &values
	}
	if msg.T != contract.FromChanged {
		return msg
	}
	all, view := p.all, *p.all.View
	view.Controls = with(view.Controls, msg.Changed.Controls,
		func(_ int, c lines.Control) string { return c.ID })
	view.Lines = with(view.Lines, msg.Changed.Lines, func(_ int, l lines.Line) string { return l.ID })
	view.Blocks = with(view.Blocks, msg.Changed.Blocks, func(i int, _ lines.Block) int { return i })
	for i, joints := range msg.Changed.Joints {
		view.Blocks[i] = withJoints(view.Blocks[i], joints)
	}
	view.Receivers = with(view.Receivers, msg.Changed.Receivers,
		func(_ int, r lines.Receiver) string { return r.Part })
	view.Behind = with(view.Behind, msg.Changed.Behind, func(_ int, b lines.Behind) string { return b.Part })
	all.View, all.Trying, all.N, all.Waits = &view, msg.Trying, msg.N, msg.Waits
	if msg.Model != nil {
		all.Model = msg.Model
	}
	if msg.Rail != nil {
		all.Rail = msg.Rail
	}
	if msg.Stage != nil {
		all.Stage = msg.Stage
	}
	p.all = all
	return all
}

func withJoints(b lines.Block, joints map[string]lines.Joint) lines.Block {
	key := func(_ int, j lines.Joint) string { return j.Key }
	b.Chains, b.Rows = slices.Clone(b.Chains), slices.Clone(b.Rows)
	for i := range b.Chains {
		b.Chains[i] = with(b.Chains[i], joints, key)
	}
	for i := range b.Rows {
		b.Rows[i].Joints = with(b.Rows[i].Joints, joints, key)
	}
	if b.Share != nil {
		b.Share = &with([]lines.Joint{*b.Share}, joints, key)[0]
	}
	return b
}

func with[K comparable, T any](list []T, others map[K]T, key func(int, T) K) []T {
	list = slices.Clone(list)
	for i, one := range list {
		if other, ok := others[key(i, one)]; ok {
			list[i] = other
		}
	}
	return list
}

func kind(t contract.ToldT) func(contract.Told) bool {
	return func(m contract.Told) bool { return m.T == t }
}

func pulse(m contract.Told, line int) float64 { return (*m.Values)[m.View.Lines[line].Pulse] }

func TestALeverMovesBothTracks(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{})
	bench := p.until(kind(contract.FromWhole))
	require.Equal(t, 1500.0, pulse(bench, 0))
	p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": 60.0, "turn": -25.0}})
	frame := p.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == 2 })
	changed := map[int]float64{}
	for i, at := range *frame.At {
		changed[at] = (*frame.V)[i]
	}
	require.Equal(t, 1652.0, changed[bench.View.Lines[0].Pulse])
	require.Equal(t, 1153.0, changed[bench.View.Lines[1].Pulse])

	joint := "out/starboard_track/pulse"
	p.say(contract.Asked{T: contract.ToWatch, Joint: &joint})
	why := p.until(kind(contract.FromWhy))
	require.Equal(t, 1153.0, why.Reason.Value)
	require.Equal(t, "1500 − 69.43 × 5, in steps of 0.5", why.Reason.Sum)

	again := s.open(m.Id, map[string]any{"drive": 60.0, "turn": -25.0, "thumb": "dig", "gone": 3.0,
		"top": 7.0})
	require.Equal(t, 1652.0, pulse(again.until(kind(contract.FromWhole)), 0),
		"a lost page comes back with the levers where they were")
}

// TestWhatWasSeenCanBePlayedAgain saves the script of a session and plays it
// from power-on: every value that the bench sent is there, in its frame.
func TestWhatWasSeenCanBePlayedAgain(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{"thumb": "up", "slider": 12.5})
	p.until(kind(contract.FromWhole))
	seen := map[int64]map[int]float64{}
	at := func(f contract.Told) {
		if f.T == contract.FromFrame {
			seen[*f.K] = map[int]float64{}
			for i, place := range *f.At {
				seen[*f.K][place] = (*f.V)[i]
			}
		}
	}
	for i := range 20 {
		p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": float64(7*i - 60),
			"turn": float64(i * i % 90), "thumb": []any{"up", "carry", "dig"}[i%3],
			"link": []any{"up", "down"}[i/7%2]}})
		n := p.n
		at(p.until(func(f contract.Told) bool { at(f); return f.T == contract.FromFrame && *f.N == n }))
	}
	require.Greater(t, len(seen), 15)
	format := contract.SaveScript
	p.say(contract.Asked{T: contract.ToSave, Format: &format})
	saved := p.until(kind(contract.FromSaved))
	require.True(t, *saved.Exact)

	doc, err := setup.ReadYAML([]byte(stoat(t)))
	require.NoError(t, err)
	program, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	slots := lines.Build(doc, program).Slots
	picture := stage.Build(program)
	scene := picture.Start()
	k, checked := int64(0), 0
	require.NoError(t, program.Run(signal.NewScript(strings.NewReader(*saved.Text), program), 30,
		func(_ float64, st *signal.State) error {
			picture.Step(scene, st)
			drawn := picture.Numbers(scene, nil)
			for place, want := range seen[k] {
				if place < len(slots) {
					require.InDelta(t, want, st.At(slots[place]), 1e-4, "frame %d", k)
				} else {
					require.InDelta(t, want, drawn[place-len(slots)], 1e-2,
						"number %d of the picture in frame %d", place-len(slots), k)
				}
				checked++
			}
			k++
			return nil
		}))
	require.Greater(t, checked, 100)
	for _, format := range []contract.SaveFormat{contract.SaveCSV, contract.SaveVCD} {
		p.say(contract.Asked{T: contract.ToSave, Format: &format})
		file := p.until(kind(contract.FromSaved))
		require.Contains(t, *file.Text, "port_track_us")
	}
	resp, body := s.ask("PATCH", "/api/models/"+m.Id.String(), low("-80"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	p.until(kind(contract.FromWhole))
	p.say(contract.Asked{T: contract.ToSave, Format: &format})
	require.False(t, *p.until(kind(contract.FromSaved)).Exact, "it begins in the middle, after the edit")
}

func TestTheSetSaysWhatItWaitsFor(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t) +
		"\nstart_check: [{control: lights, is: dark}, {control: slider, is: {from: -100, to: -90}}]\n")
	p := s.open(m.Id, map[string]any{"lights": "dark", "slider": 50.0})
	bench := p.until(kind(contract.FromWhole))
	require.Equal(t, []int{1}, *bench.Waits, "only what is not met")
	require.Equal(t, "Right slider at −100 to −90", bench.View.StartCheck[1])
	p.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"slider": -95.0}})
	frame := p.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == 2 })
	require.Empty(t, *frame.Waits)
}

func TestTrialsAreLiveAndNotKept(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	p := s.open(m.Id, map[string]any{"drive": 100.0})
	require.Equal(t, 1020.0, pulse(p.until(kind(contract.FromWhole)), 1))
	one, two := int64(1), int64(2)
	patch := contract.Patch(low("-80"))
	p.say(contract.Asked{T: contract.ToTry, Id: &one, Patch: &patch})
	tried := p.until(kind(contract.FromWhole))
	require.Equal(t, 1100.0, pulse(tried, 1))
	require.Equal(t, int64(1), *tried.Trying)
	require.Equal(t, 1, tried.Model.Revision)
	bad := contract.Patch(low("5"))
	p.say(contract.Asked{T: contract.ToTry, Id: &two, Patch: &bad})
	refused := p.until(kind(contract.FromRefused))
	require.Equal(t, "outputs[1].low", (*refused.Problem.Errors)[0].Path)
	p.say(contract.Asked{T: contract.ToDrop})
	require.Equal(t, 1020.0, pulse(p.until(kind(contract.FromWhole)), 1))
	_, body := s.ask("GET", "/api/models/"+m.Id.String(), "")
	require.Equal(t, 1, s.model(body).Revision, "no revision was made")
}

func TestAnEditReachesEveryBenchWithoutAPowerOn(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	a, b := s.open(m.Id, map[string]any{"drive": 100.0}), s.open(m.Id, map[string]any{})
	a.until(kind(contract.FromWhole))
	b.until(kind(contract.FromWhole))
	// the tiller takes 3 s for its way
	a.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"thumb": "dig"}})
	moving := a.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.K > 3 })
	resp, body := s.ask("PATCH", "/api/models/"+m.Id.String(), low("-80"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	edited := a.until(kind(contract.FromWhole))
	require.Equal(t, 1100.0, pulse(edited, 1))
	require.Equal(t, 2, edited.Model.Revision)
	tiller := pulse(edited, 5)
	require.Less(t, tiller, 1700.0, "the tiller goes on from where it was and does not jump to its target")
	next := a.until(func(f contract.Told) bool { return f.T == contract.FromFrame })
	require.Greater(t, *next.K, *moving.K, "frames are counted on")
	require.Equal(t, 2, b.until(kind(contract.FromWhole)).Model.Revision)
}

func TestBadMessagesEndTheirOwnBenchOnly(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	good := s.open(m.Id, map[string]any{})
	good.until(kind(contract.FromWhole))
	for _, text := range []string{"{", `{"t": 5}`, strings.Repeat("x", 300<<10)} {
		bad := s.open(m.Id, map[string]any{})
		require.NoError(t, bad.conn.Write(t.Context(), websocket.MessageText, []byte(text)))
		ctx, cancel := context.WithTimeout(t.Context(), 5*time.Second)
		var err error
		for err == nil {
			_, _, err = bad.conn.Read(ctx)
		}
		cancel()
		require.NotEqual(t, websocket.StatusCode(-1), websocket.CloseStatus(err), "%v", err)
	}
	good.say(contract.Asked{T: contract.ToHands, Set: &map[string]any{"drive": 10.0}})
	good.until(func(f contract.Told) bool { return f.T == contract.FromFrame && *f.N == 2 })
	_, _, err := websocket.Dial(t.Context(), strings.Replace(s.URL, "http", "ws", 1)+"/api/models/"+
		m.Id.String()+"/live",
		&websocket.DialOptions{HTTPHeader: http.Header{"Origin": {"http://evil.example"}}})
	require.Error(t, err)
}

// TestTheListIsPrepared: after the program was renewed nothing is left to be worked out by whoever
// opens the list first.
func TestTheListIsPrepared(t *testing.T) {
	s := newSite(t)
	for i := range 3 {
		text := strings.Replace(stoat(t), "name: Stoat", fmt.Sprintf("name: No %d", i), 1)
		made, answer := s.ask("POST", "/api/models", text)
		require.Equal(t, http.StatusCreated, made.StatusCode, "%s", answer)
	}
	worked := 0
	missing := func(head *store.Head) (store.Summary, error) {
		worked++
		return sumUp(head)
	}
	Prepare(t.Context(), s.store)
	all, err := s.store.Summaries(t.Context(), store.Models, programHash(), missing)
	require.NoError(t, err)
	require.Len(t, all, 3)
	require.Zero(t, worked)
	_, err = s.store.Summaries(t.Context(), store.Models, "another program", missing)
	require.NoError(t, err)
	require.Equal(t, 3, worked)
}
