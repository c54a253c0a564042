package web

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/url"
	"os"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/archive"
	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/setup"
)

// packed makes an archive by its list of contents.
func packed(t *testing.T, contents string, files map[string]string) string {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	files["yard.json"] = `{"format":"axtren-yard","version":1,"models":[` + contents + `]}`
	for name, text := range files {
		f, err := z.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.String()
}

const empty = "format: axtren-setup\nversion: 1\n"

// TestLongFolderNamesThatAgree: each model of an archive comes in, however long the
// names are and whatever letters they have, and once only where it is sent again.
func TestLongFolderNamesThatAgree(t *testing.T) {
	s := newSite(t)
	long := strings.Repeat("a very long földer ", 8)
	var list []string
	files := map[string]string{}
	for i := range 5 {
		name := fmt.Sprintf("%s/%d.yaml", long, i)
		files[name] = empty + fmt.Sprintf("name: M%d\n", i)
		list = append(list, fmt.Sprintf(`{"file":%q}`, name))
	}
	zip := packed(t, strings.Join(list, ","), files)
	for range 2 {
		resp, body := s.ask("POST", "/api/archive", zip, "Axtren-Edit", "the same")
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		var outcomes []contract.Brought
		require.NoError(t, json.Unmarshal(body, &outcomes))
		require.Len(t, outcomes, 5)
		for i, one := range outcomes {
			require.Nil(t, one.Problem)
			require.Equal(t, fmt.Sprintf("M%d", i), one.Model.Name)
		}
	}
	_, body := s.ask("GET", "/api/models", "")
	var models []contract.Model
	require.NoError(t, json.Unmarshal(body, &models))
	require.Len(t, models, 5)
}

// TestAModelOfAnArchiveComesWholeOrNotAtAll: a recording that is no script for it
// leaves nothing of it behind, and it is said; the others come in.
func TestAModelOfAnArchiveComesWholeOrNotAtAll(t *testing.T) {
	s := newSite(t)
	zip := packed(t,
		`{"file":"a.yaml","recordings":[{"file":"good.csv","name":"good"},{"file":"bad.csv","name":"bad"}]},{"file":"b.yaml","recordings":[{"file":"good.csv","name":"good"}]},{"file":"c.yaml","recordings":[{"file":"good.csv","name":"`+strings.Repeat("x", 81)+`"}]}`,
		map[string]string{"a.yaml": empty + "name: A\n", "b.yaml": empty + "name: B\n",
			"c.yaml": empty + "name: C\n", "good.csv": "t_s,control,value\n",
			"bad.csv": "=1+1,not a script\n"})
	resp, body := s.ask("POST", "/api/archive", zip)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	var outcomes []contract.Brought
	require.NoError(t, json.Unmarshal(body, &outcomes))
	require.Nil(t, outcomes[0].Model)
	require.Contains(t, outcomes[0].Problem.Title, "The recording bad is no script")
	require.NotNil(t, outcomes[1].Model)
	require.Contains(t, outcomes[2].Problem.Title, "no name of a recording")
	_, body = s.ask("GET", "/api/models", "")
	var models []contract.Model
	require.NoError(t, json.Unmarshal(body, &models))
	require.Len(t, models, 1)
	require.Equal(t, "B", models[0].Name)
}

// TestOneDocumentHidesNoOther: what cannot be read is listed as such, can be taken out
// as a file and removed, and is in the archive as it is kept.
func TestOneDocumentHidesNoOther(t *testing.T) {
	s := newSite(t)
	good := s.bring(stoat(t))
	bad := s.bring(empty + "name: Bad\n")
	text := `{"format":"axtren-setup","version":1,"name":"Bad","wings":2}`
	s.exec("update models set document = $1 where id = $2", text, bad.Id)
	resp, body := s.ask("GET", "/api/models", "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	var models []contract.Model
	require.NoError(t, json.Unmarshal(body, &models))
	require.Len(t, models, 2)
	require.Nil(t, models[0].Broken)
	require.Equal(t, "Bad", models[1].Name)
	require.Contains(t, *models[1].Broken, "wings")
	at := "/api/models/" + bad.Id.String()
	resp, body = s.ask("GET", at, "")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, s.problem(body).Title, "cannot be read")
	resp, body = s.ask("GET", at+"/export", "")
	require.Equal(t, 200, resp.StatusCode)
	require.JSONEq(t, text, string(body))
	_, zipped := s.ask("GET", "/api/archive", "")
	files, err := archive.Open(zipped)
	require.NoError(t, err)
	require.Equal(t, 2, files.Len())
	require.NoError(t, files.Read(0).Err)
	require.Contains(t, files.Read(1).Err.Error(), "wings")
	resp, _ = s.ask("DELETE", at, "")
	require.Equal(t, 204, resp.StatusCode)
	_, body = s.ask("GET", "/api/models", "")
	require.NoError(t, json.Unmarshal(body, &models))
	require.Len(t, models, 1)
	require.Equal(t, good.Id, models[0].Id)
}

// TestWhatGrowsWhenItIsPrintedIsRefused, and disables nothing.
func TestWhatGrowsWhenItIsPrintedIsRefused(t *testing.T) {
	s := newSite(t)
	for _, letter := range []string{`"`, "\u2028", `\`} {
		text := empty + "craft: {notes: '" + strings.Repeat(letter, (1<<20-200)/len(letter)) + "'}\n"
		require.Less(t, len(text), 1<<20)
		resp, body := s.ask("POST", "/api/models", text)
		require.Equal(t, 422, resp.StatusCode, "%.200s", body)
		require.Contains(t, string(body), "larger than")
	}
	_, body := s.ask("GET", "/api/models", "")
	require.Equal(t, "[]", string(bytes.TrimSpace(body)))
}

// TestBadLettersAndFigures are 400 or 422 like any other bad input, wherever they stand.
func TestBadLettersAndFigures(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	for name, c := range map[string]struct {
		method, path, body string
		header             []string
	}{
		"a zero letter in the document": {"POST", "/api/models", empty + `name: "a\0b"` + "\n", nil},
		"a zero letter in JSON": {"POST", "/api/models?format=json",
			`{"format":"axtren-setup","version":1,"name":"a\u0000b"}`, nil},
		"a zero letter in a key": {"POST", "/api/models?format=json",
			`{"format":"axtren-setup","version":1,"a\u0000b":1}`, nil},
		"a zero letter in a patch": {"PATCH", at, `[{"op":"add","path":"/name","value":"a\u0000b"}]`,
			[]string{"If-Match", `"1"`}},
		"a zero letter in an act": {"POST", at + "/acts",
			`{"act":"rename","part":"outputs/horn","to":"a\u0000b"}`,
			[]string{"If-Match", `"1"`, "Content-Type", "application/json"}},
		"a zero letter in a query":     {"POST", at + "/recordings?name=a%00b", "t_s,control,value\n", nil},
		"a line in a recording's name": {"POST", at + "/recordings?name=a%0Ab", "t_s,control,value\n", nil},
		"a zero letter in a gamepad":   {"GET", "/api/gamepads?set=a%00b", "", nil},
		"no UTF-8 in a header":         {"POST", "/api/models", empty, []string{"Axtren-Page", "a\xffb"}},
		"no UTF-8 in a query":          {"GET", "/api/gamepads?set=%ff", "", nil},
		"no UTF-8 in a patch": {"PATCH", at,
			"[{\"op\":\"add\",\"path\":\"/name\",\"value\":\"\xff\"}]", []string{"If-Match", `"1"`}},
		"a large revision":            {"PATCH", at, low("-80"), []string{"If-Match", `"9999999999"`}},
		"a large revision to undo":    {"POST", at + "/undo", "", []string{"If-Match", `"9999999999"`}},
		"a large since":               {"GET", at + "/sheet?since=9999999999", "", nil},
		"a large from":                {"GET", at + "/differences?from=9999999999&to=1", "", nil},
		"a large revision to compare": {"GET", at + "/same?with_revision=9999999999", "", nil},
		"a model that is no name":     {"GET", at + "/same?with=stoat", "", nil},
		"a large after":               {"GET", at + "/revisions?after=9999999999", "", nil},
		"a large revision to export":  {"GET", at + "/export?revision=9999999999", "", nil},
		"a look with no such control": {"POST", at + "/diagnosis", `{"looks":[{"hands":{"x":1},"display":{},"seen":{}}]}`,
			[]string{"Content-Type", "application/json"}},
		"a device that does something else": {"POST", at + "/diagnosis",
			`{"looks":[{"hands":{},"display":{},"seen":{"port_controller":"sings"}}]}`,
			[]string{"Content-Type", "application/json"}},
		"the feel of nothing":      {"GET", at + "/feel?output=nobody", "", nil},
		"a cap of nothing":         {"GET", at + "/feel/caps?output=nobody&control=x&side=both&most=60", "", nil},
		"what nothing has learned": {"GET", at + "/learned?output=nobody", "", nil},
		"the linkage of nothing":   {"GET", at + "/linkage?output=nobody", "", nil},
		"201 looks": {"POST", at + "/diagnosis",
			`{"looks":[` + strings.Repeat(`{"hands":{},"display":{},"seen":{}},`, 200) + `{"hands":{},"display":{},"seen":{}}]}`,
			[]string{"Content-Type", "application/json"}},
		"a film of no such fault": {"POST", at + "/diagnosis/film",
			`{"faults":[{"kind":"tired","where":["/outputs/0"]}],"hands":{}}`,
			[]string{"Content-Type", "application/json"}},
		"a film beyond the end": {"POST", at + "/diagnosis/film", `{"faults":[],"hands":{"drive":300}}`,
			[]string{"Content-Type", "application/json"}},
		"a name of 121 letters": {"PATCH", at,
			`[{"op":"add","path":"/name","value":"` + strings.Repeat("ü", 121) + `"}]`,
			[]string{"If-Match", `"1"`}},
		"a label of 121 letters": {"POST", "/api/models",
			empty + "outputs: [{id: o, channel: 1, label: " + strings.Repeat("u", 121) + "}]\n", nil},
	} {
		resp, body := s.ask(c.method, c.path, c.body, c.header...)
		require.Contains(t, []int{400, 404, 422}, resp.StatusCode, "%s: %s", name, body)
		require.NotEmpty(t, s.problem(body).Title, name)
	}
	resp, body := s.ask("PATCH", at, `[{"op":"add","path":"/name","value":"`+strings.Repeat("ü", 120)+`"}]`,
		"If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
}

// TestNothingIsKeptThatIsEqualToWhatWas: an edit without effect makes no revision.
func TestNothingIsKeptThatIsEqualToWhatWas(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	resp, body := s.ask("PATCH", at, low("-96"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	require.Equal(t, 1, s.model(body).Revision)
	require.Nil(t, s.model(body).Undo)
	resp, body = s.ask("PATCH", at, low("-95"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	require.Equal(t, 2, s.model(body).Revision)
}

// TestRefusalsCarryTheHeaders of security too.
func TestRefusalsCarryTheHeaders(t *testing.T) {
	s := newSite(t)
	for _, header := range [][]string{{"Host", "evil.example"}, {"Origin", "http://evil.example"},
		{"Sec-Fetch-Site", "cross-site"}, nil} {
		resp, _ := s.ask("GET", "/api/models", "", header...)
		require.Contains(t, resp.Header.Get("Content-Security-Policy"), "default-src 'self'", header)
		require.Equal(t, "nosniff", resp.Header.Get("X-Content-Type-Options"), header)
		require.Equal(t, "no-referrer", resp.Header.Get("Referrer-Policy"), header)
	}
}

// TestADatabaseThatGoesAwayIs503, however it says so, and nobody claims to know that
// nothing was changed.
func TestADatabaseThatGoesAwayIs503(t *testing.T) {
	for _, err := range []error{io.ErrUnexpectedEOF,
		fmt.Errorf("the edit was not kept: %w", io.ErrUnexpectedEOF),
		errors.New("failed to receive message: unexpected EOF"),
		net.ErrClosed, errors.New("conn closed"), fmt.Errorf("x: %w", io.EOF),
		&net.OpError{Op: "dial", Err: errors.New("refused")}} {
		p := problemOf(err)
		require.Equal(t, 503, p.Status, "%v", err)
		require.NotContains(t, *p.Detail, "nothing was changed", "%v", err)
	}
	require.Equal(t, 500, problemOf(errors.New("a fault of our own")).Status)
	require.NotContains(t, *problemOf(errors.New("a fault of our own")).Detail, "nothing was changed")
	require.Equal(t, 404, problemOf(store.ErrNotFound).Status)
	require.Equal(t, 422, problemOf(setup.Problems{{Message: "unexpected EOF in a script"}}).Status)
}

// TestASlowModelKeepsNobodyWaiting: twenty clients send the largest patches there are to
// one model; the list of models answers meanwhile, and an edit of another one.
func TestASlowModelKeepsNobodyWaiting(t *testing.T) {
	s := newSite(t)
	var b strings.Builder
	b.WriteString(empty + "outputs:\n")
	for i := range 48 {
		fmt.Fprintf(&b, "  - {id: o%d, channel: %d, notes: %q}\n", i, i+1, strings.Repeat("long notes ", 800))
	}
	slow, other := s.bring(b.String()), s.bring(stoat(t))
	var ops []string
	for i := range 250 {
		ops = append(ops,
			fmt.Sprintf(`{"op":"test","path":"/outputs/%d/id","value":"o%d"},{"op":"add","path":"/outputs/%d/high","value":%d}`, i%48, i%48, i%48, 50+i%50))
	}
	patch := "[" + strings.Join(ops, ",") + "]"
	send := func(id uuid.UUID, body string, revision, edit int) (int, error) {
		r, err := http.NewRequestWithContext(t.Context(), "PATCH", s.URL+"/api/models/"+id.String(),
			strings.NewReader(body))
		if err != nil {
			return 0, err
		}
		for k, v := range map[string]string{"Axtren-Page": "p", "Axtren-Edit": fmt.Sprint(id, edit),
			"If-Match":     fmt.Sprintf("%q", fmt.Sprint(revision)),
			"Content-Type": "application/json-patch+json"} {
			r.Header.Set(k, v)
		}
		resp, err := http.DefaultTransport.RoundTrip(r)
		if err != nil {
			return 0, err
		}
		defer resp.Body.Close()
		_, err = io.Copy(io.Discard, resp.Body)
		return resp.StatusCode, err
	}
	var clients sync.WaitGroup
	stop := make(chan struct{})
	for c := range 20 {
		clients.Go(func() {
			for i := 0; ; i++ {
				select {
				case <-stop:
					return
				default:
				}
				head, err := s.store.Head(t.Context(), slow.Id)
				if err != nil {
					return
				}
				if _, err := send(slow.Id, strings.ReplaceAll(patch, `"value":5`,
					fmt.Sprintf(`"value":%d`, 5+i%4)), head.Number, c*1000+i); err != nil {
					return
				}
			}
		})
	}
	worst := time.Duration(0)
	for i := range 20 {
		start := time.Now()
		resp, err := http.Get(s.URL + "/api/models")
		require.NoError(t, err)
		_, err = io.Copy(io.Discard, resp.Body)
		require.NoError(t, err)
		resp.Body.Close()
		require.Equal(t, 200, resp.StatusCode)
		worst = max(worst, time.Since(start))
		status, err := send(other.Id, low(fmt.Sprint(-60-i)), i+1, i)
		require.NoError(t, err)
		require.Equal(t, 200, status)
		time.Sleep(20 * time.Millisecond)
	}
	close(stop)
	clients.Wait()
	t.Logf("the list beside 20 clients: at worst %v", worst)
	require.Less(t, worst, time.Second, "200 ms where the machine does nothing else")
}

// TestTheFontsLicencesAreShipped with them.
func TestTheFontsLicencesAreShipped(t *testing.T) {
	s := newSite(t)
	resp, err := http.Get(s.URL + "/licences.txt")
	require.NoError(t, err)
	defer resp.Body.Close()
	text, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	require.Contains(t, string(text), "SIL OPEN FONT LICENSE Version 1.1")
	require.Contains(t, string(text), "Bitstream Vera")
}

// TestRandomBadRequests sends what no page sends: never is it the server's fault, and
// never does it take long. AXTREN_LONG makes it 4000 of them.
func TestRandomBadRequests(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	n := 500
	if os.Getenv("AXTREN_LONG") != "" {
		n = 4000
	}
	rng := rand.New(rand.NewPCG(1, 2))
	pick := func(list ...string) string { return list[rng.IntN(len(list))] }
	noise := func(most int) string {
		b := make([]byte, rng.IntN(most+1))
		for i := range b {
			b[i] = byte(rng.IntN(256))
		}
		return string(b)
	}
	ids := []string{m.Id.String(), "00000000-0000-4000-8000-000000000000", "zzz", "%00",
		strings.Repeat("a", 3000)}
	slowest, what := time.Duration(0), ""
	for range n {
		id := ids[rng.IntN(len(ids))]
		path := pick("/api/models", "/api/models/"+id,
			"/api/models/"+id+"/"+pick("undo", "redo", "acts", "text", "form", "copy", "restore",
				"differences", "same", "entries", "cures?claim=x", "goals", "loss", "start",
				"hold?receiver=x", "recordings", "export",
				"sheet", "sheet.pdf", "ticks",
				"live", "revisions",
				"plan", "leads", "codes", "diagnosis", "diagnosis/film", "linkage?output=x",
				"learned?output=x", "feel?output=x", "schemes", "rules",
				"feel/caps?output=x&control=y&side=both&most=60", "stand",
				"nothing"),
			"/api/archive", "/api/kinds/"+pick("boat", "x", "%ff"), "/api/gamepads", "/api/phones",
			"/api/phones/code", "/"+url.PathEscape(noise(20)), "/assets/../../etc/passwd")
		if rng.IntN(2) == 0 {
			path += "?" + pick("from", "to", "with", "with_revision", "since", "revision", "after",
				"part", "name", "set", "format",
				"paper", "sure", "x") + "=" + pick("1", "-1", "99999999999999999999", "%00", "%ff", "logic/x",
				url.QueryEscape(noise(40)), "yaml", "A4", "")
		}
		body := pick("", noise(300), "{", "[]", "[1]", `{"act":"remove","part":"outputs/x","along":true}`,
			`{"act":"rename","part":"outputs/horn","to":""}`,
			`{"act":"move","part":"outputs/horn","by":99999999999999999999}`,
			`{"act":"chart","part":"receivers/rx","value":"levels: [["}`,
			`{"act":"pin_code","part":"receivers/rx","of":"1","by":-5,"value":1e300}`,
			`{"act":"pin_wish","part":"receivers/x","of":"1","value":[["a"]]}`,
			`{"act":"pin_lamp","part":"logic/x","of":"","value":true}`,
			`{"act":"stand","part":"outputs/tiller","of":"low","value":1e300}`,
			`{"act":"stand","part":"devices/x","of":"arm","to":"dreamt","value":[["a"]]}`,
			`{"act":"stand","part":"outputs/port_track","of":"taught","to":"devices/port_controller"}`,
			`{"act":"feel","part":"outputs/port_track"}`, `{"act":"scheme"}`, `{"act":"apart","of":"pump:"}`,
			`{"act":"feel","part":"outputs/port_track","feel":{"what":"cap","control":"drive","most":1e308}}`,
			`{"act":"feel","part":"outputs/port_track","feel":{"what":"curve","control":"drive","points":[[1],[]]}}`,
			`{"act":"feel","part":"outputs/port_track","feel":{"what":"steps","control":"turn","values":[]}}`,
			`{"act":"scheme","scheme":{"kind":"pump","was":"","values":{"pump":["pump"],"valves":["pump"]}}}`,
			`{"act":"scheme","scheme":{"kind":"pivot","was":"pivot:x","values":null}}`,
			`{"act":"rule"}`, `{"act":"unrule","of":"logic/"}`, `{"act":"rule","rule":{"kind":"click","was":"","values":null}}`,
			`{"act":"rule","rule":{"kind":"steps","was":"","values":{"in":["top.press"],"steps":["a"],"ends":["round"]}}}`,
			`{"act":"rule","rule":{"kind":"chooser","was":"","values":{"switch":["rocker"],"in":["x<1e999"],"own":["",""]}}}`,
			`{"act":"rule","rule":{"kind":"zones","was":"","values":{"of":["drive"],"zones":["","",""],"margin":["NaN"]}}}`,
			`{"act":"rule","rule":{"kind":"moves","was":"mixes/hoot","values":{"in":["not "],"tracks":[".",",,"]}}}`,
			`{"act":"scheme","scheme":{"kind":"four_wheel","was":"","values":{"switch":["thumb"],"ways":["",""]}}}`,
			`{"looks":[{"hands":{"drive":[]},"display":{"1":1e308},"seen":{}}]}`,
			`{"looks":[{"hands":{"drive":"x"},"display":{"-1":0},"seen":{"":""}}]}`,
			`{"faults":[{"kind":"crossed","where":[]}],"hands":{"drive":{}}}`,
			`[{"op":"add","path":"/outputs/0/low","value":1}]`,
			`[{"op":"move","from":"/name","path":"/name/x"}]`, `[{"op":"copy","from":"","path":"/x"}]`,
			`[{"op":"test","path":"/outputs/9999999999999999999/id","value":"x"}]`,
			strings.Repeat("[", 20000), strings.Repeat("- ", 20000), "a: &a [*a]", "PK\x03\x04"+noise(200),
			"t_s,control,value\n0,drive,1e999\n", strings.Repeat(`{"a":`, 5000))
		headers := []string{"Content-Type", pick("application/json", "application/json-patch+json",
			"application/octet-stream", "text/plain", "x"), "If-Match", pick(`"1"`, "*", "", `"99999999999"`,
			noise(9), `W/"1"`)}
		if rng.IntN(4) == 0 {
			headers = append(headers, "Axtren-Page", pick("", noise(80), strings.Repeat("p", 65)))
		}
		r, err := http.NewRequestWithContext(t.Context(),
			pick("GET", "POST", "PUT", "PATCH", "DELETE", "OPTIONS", "TRACE", "FOO"), s.URL+path,
			strings.NewReader(body))
		if err != nil {
			continue // no client could send it
		}
		if r.Method == "DELETE" && strings.Contains(path, m.Id.String()) {
			continue // that is a good request
		}
		r.Header.Set("Axtren-Page", "p")
		r.Header.Set("Axtren-Edit", fmt.Sprint(rng.Uint64()))
		for i := 0; i+1 < len(headers); i += 2 {
			r.Header.Set(headers[i], headers[i+1])
		}
		start := time.Now()
		resp, err := http.DefaultTransport.RoundTrip(r)
		if err != nil {
			continue // refused by the client, or by the server before it was a request
		}
		text, err := io.ReadAll(io.LimitReader(resp.Body, 1<<22))
		require.NoError(t, err)
		resp.Body.Close()
		took := time.Since(start)
		require.Less(t, resp.StatusCode, 500, "%s %.200q %.100q %v: %.300s", r.Method, path, body, r.Header,
			text)
		if took > slowest {
			slowest, what = took, fmt.Sprintf("%s %.80q", r.Method, path)
		}
	}
	t.Logf("%d bad requests, the slowest %v: %s", n, slowest, what)
	require.Less(t, slowest, 3*time.Second)
	resp, _ := s.ask("GET", "/api/models", "")
	require.Equal(t, 200, resp.StatusCode)
}
