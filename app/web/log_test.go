package web

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"image"
	"image/png"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	appsheet "axtren/app/sheet"
	"axtren/core/bench"
)

// logOf reads what happened.
func logOf(t *testing.T, s *site, at, query string) (told contract.LogTold) {
	t.Helper()
	resp, body := s.ask("GET", at+"/log"+query, "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	fitsAs(t, "LogTold", body)
	require.NoError(t, json.Unmarshal(body, &told))
	return told
}

// noting is something to note, with its fields as JSON.
func noting(fields string) string {
	var own, all map[string]any
	_ = json.Unmarshal([]byte(`{"part": "", "what": "", "was": "", "becomes": "", "says": "", "minutes": 0, "battery": "", "on": ""}`), &all)
	_ = json.Unmarshal([]byte(fields), &own)
	all["id"] = uuid.NewString()
	for key, value := range own {
		all[key] = value
	}
	text, _ := json.Marshal(all)
	return string(text)
}

// TestTheLog: revisions, notes, runs, faults, values and signed walks in one list, each in whole words;
// what is
// noted can be taken back, and a signature cannot; as a table too; bad notes are refused in words.
func TestTheLog(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	for _, fields := range []string{`{"kind": "note", "says": "The mast leans.\nA little."}`,
		`{"kind": "run", "minutes": 41, "battery": "battery 2", "says": "4.9 V at the end"}`,
		`{"kind": "run", "minutes": 90, "battery": "battery 1"}`,
		`{"kind": "fault", "part": "devices/rudder_servo", "what": "hums at rest", "says": "arm freed"}`,
		`{"kind": "value", "part": "devices/port_controller", "what": "timing", "was": "8", "becomes": "12"}`,
		`{"kind": "value", "part": "devices/port_controller", "what": "timing", "was": "12", "becomes": "10", "says": "=SUM(A1)"}`} {
		resp, body := s.ask("POST", at+"/events", noting(fields))
		require.Equal(t, 201, resp.StatusCode, "%s", body)
		fitsAs(t, "LogEntry", body)
	}
	resp, body := s.ask("PATCH", at, `[{"op":"replace","path":"/name","value":"Tug"}]`, "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	_, body = s.ask("POST", at+"/walks", "")
	allSeen(t, s, at, walkOf(t, body))
	told := logOf(t, s, at, "")
	said := []string{}
	for _, e := range told.Entries {
		said = append(said, fmt.Sprintf("%d %s: %s %q", e.Revision, e.Kind, e.Head, e.More))
	}
	require.Equal(t, []string{
		`2 walk: Tried, in the fewest steps, signed by a founder: 11 of 11 steps ["Battery 1"]`,
		`2 edit: Model: “name” changed from “Marram” to “Tug” []`,
		`1 value: Port controller: timing changed from 12 to 10 ["With its own program." "=SUM(A1)"]`,
		`1 value: Port controller: timing changed from 8 to 12 ["With its own program."]`,
		`1 fault: Rudder servo: hums at rest ["Mended: arm freed"]`,
		`1 run: 1 h 30 min on the water, battery 1 []`,
		`1 run: 41 min on the water, battery 2 ["4.9 V at the end"]`,
		`1 note: The mast leans. ["A little."]`,
		`1 import: Imported []`}, said)
	require.Equal(t, []string{"2 h 11 min on the water in all, 2 times.", "Battery 1: 1 h 30 min, 1 time.",
		"Battery 2: 41 min, 1 time."}, told.Totals)
	require.Equal(t, []string{"Port controller: timing, 10"}, told.Values)
	require.Empty(t, told.More)
	for i, e := range told.Entries {
		require.Equal(t, i == 1, e.Undo, "an edit alone is undone")
	}
	page := logOf(t, s, at, "?limit=4")
	require.Equal(t, told.Entries[:4], page.Entries)
	page = logOf(t, s, at, "?limit=4&before="+page.More)
	require.Equal(t, told.Entries[4:8], page.Entries)
	require.Len(t, logOf(t, s, at, "?only=tried").Entries, 1)
	require.Len(t, logOf(t, s, at, "?only=notes&find="+url.QueryEscape("TIMING")).Entries, 2)
	require.Len(t, logOf(t, s, at, "?only=changes").Entries, 2)
	require.Empty(t, logOf(t, s, at, "?only=measured").Entries)

	_, text := s.ask("GET", at+"/log.csv", "")
	rows, err := csv.NewReader(bytes.NewReader(text)).ReadAll()
	require.NoError(t, err)
	require.Len(t, rows, 10)
	require.Equal(t, []string{"at", "revision", "kind", "what", "more", "part", "was", "now", "minutes",
		"battery"}, rows[0])
	require.Equal(t, "import", rows[1][2], "the oldest first")
	require.Equal(t, []string{"1", "run", "41 min on the water, battery 2", "4.9 V at the end", "", "", "",
		"41", "battery 2"},
		rows[3][1:])
	_, err = time.Parse(time.RFC3339, rows[3][0])
	require.NoError(t, err)
	for _, row := range rows {
		require.False(t, strings.HasPrefix(row[4], "="), "no spreadsheet runs it: %q", row[4])
	}

	resp, _ = s.ask("DELETE", at+"/events/"+told.Entries[4].Key, "")
	require.Equal(t, 204, resp.StatusCode)
	resp, body = s.ask("DELETE", at+"/events/"+told.Entries[0].Key, "")
	require.Equal(t, 404, resp.StatusCode, "%s", body)
	require.Len(t, logOf(t, s, at, "").Entries, 8)
	same := noting(`{"kind": "note", "says": "once"}`)
	for range 2 {
		resp, body := s.ask("POST", at+"/events", same)
		require.Equal(t, 201, resp.StatusCode, "%s", body)
	}
	require.Len(t, logOf(t, s, at, "").Entries, 9, "the same sent again is no second")

	for bad, says := range map[string]string{
		`{"kind": "note", "says": "  "}`:                                "write what is to be remembered",
		`{"kind": "run", "minutes": 0}`:                                 "write the minutes",
		`{"kind": "fault"}`:                                             "write what was seen",
		`{"kind": "value", "part": "devices/rudder_servo"}`:             "name the part",
		`{"kind": "walk", "says": "forged"}`:                            "use note, exchange, run, fault or value",
		`{"kind": "note", "part": "devices/none", "says": "x"}`:         "There is no such part",
		`{"kind": "note", "part": "controls/helm", "says": "x"}`:        "There is no such part",
		`{"kind": "exchange", "says": "x"}`:                             "name a device",
		`{"kind": "note", "says": "` + strings.Repeat("é", 2001) + `"}`: "longer than 2000 letters",
		`{"kind": "note", "says": "a\u0007b"}`:                          "no keyboard gives"} {
		resp, body := s.ask("POST", at+"/events", noting(bad))
		require.Equal(t, 422, resp.StatusCode, "%s: %s", bad, body)
		require.Contains(t, string(body), says, bad)
	}
	resp, body = s.ask("GET", at+"/log?before=soon", "")
	require.Equal(t, 400, resp.StatusCode, "%s", body)
	require.Len(t, logOf(t, s, at, "").Entries, 9, "nothing of it was noted")
}

// TestDays: the newest revision by a moment.
func TestDays(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String() + "/revision-at?at="
	for moment, want := range map[time.Time]string{time.Now().Add(-time.Hour): `{"number":0}`, time.Now().Add(time.Hour): `{"number":1}`} {
		_, body := s.ask("GET", at+url.QueryEscape(moment.Format(time.RFC3339)), "")
		require.JSONEq(t, want, string(body))
	}
}

// TestWhatWasSeenInDetail: a reading of the display that is not the one that it must be makes it otherwise;
// what
// a part does instead is one of its ways; a photograph is kept, and what is none is refused; what is known is
// taken to a diagnosis, which names the cause.
func TestWhatWasSeenInDetail(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	_, body := s.ask("POST", at+"/walks", "")
	w := walkOf(t, body)
	require.NotEmpty(t, w.Taught)
	one := at + "/walks/" + w.Head.Id.String()
	port := -1
	for k, part := range w.Steps[1].Parts {
		if part.Of == "devices/port_controller" {
			port = k
		}
	}
	require.GreaterOrEqual(t, port, 0)
	must := w.Steps[1].Parts[port].Display
	tick := func(step int, part, fields string) (int, string) {
		resp, body := s.ask("POST", one+"/ticks", fmt.Sprintf(`{"step": %d, "parts": [{"part": %q, "note": "", %s}]}`, step, part,
			fields))
		return resp.StatusCode, string(body)
	}
	code, said := tick(1, "devices/port_controller", fmt.Sprintf(`"seen": "as", "reads": %q`, must))
	require.Equal(t, 200, code, said)
	now := walkOf(t, []byte(said))
	require.Equal(t, contract.WalkTick{Step: 1, Part: "devices/port_controller", Seen: contract.As,
		Reads: must}, now.Ticks[0])
	code, said = tick(1, "devices/port_controller", `"seen": "as", "reads": "-3"`)
	require.Equal(t, 200, code, said)
	now = walkOf(t, []byte(said))
	require.Equal(t, contract.WalkTickSeen("other"), now.Ticks[0].Seen)
	require.Equal(t, 1, now.Head.Other)
	for fields, says := range map[string]string{`"seen": "as", "reads": "much"`: "write the figure", `"seen": "other", "does": "flies"`: "use one of its ways"} {
		code, said = tick(1, "devices/port_controller", fields)
		require.Equal(t, 422, code)
		require.Contains(t, said, says)
	}
	code, said = tick(1, "rest", `"seen": "as", "reads": "4"`)
	require.Equal(t, 422, code)
	require.Contains(t, said, "There is no display")

	// the port screw turns the wrong way wherever it turns
	for n, step := range w.Steps {
		for _, part := range step.Parts {
			fields := `"seen": "as"`
			if part.Of == "devices/port_controller" && strings.HasPrefix(part.Should, "turns") {
				does := map[bool]string{true: "minus", false: "plus"}[strings.HasPrefix(part.Should, "turns ahead")]
				fields = fmt.Sprintf(`"seen": "other", "does": %q`, does)
			}
			code, said = tick(n, part.Of, fields)
			require.Equal(t, 200, code, said)
		}
	}
	_, body = s.ask("GET", one+"/looks", "")
	fitsAs(t, "KnownTold", body)
	var known contract.KnownTold
	require.NoError(t, json.Unmarshal(body, &known))
	require.NotEmpty(t, known.Looks)
	looks, err := json.Marshal(map[string]any{"looks": known.Looks})
	require.NoError(t, err)
	resp, body := s.ask("POST", at+"/diagnosis", string(looks))
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	var told contract.Diagnosis
	require.NoError(t, json.Unmarshal(body, &told))
	require.NotEmpty(t, told.Causes)
	require.Contains(t, fmt.Sprint(told.Causes), "Port")

	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, 30, 20))))
	photo := one + "/photo?step=1&part=" + url.QueryEscape("devices/port_controller")
	resp, body = s.ask("PUT", photo, picture.String(), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	found := 0
	for _, one := range walkOf(t, body).Ticks {
		if one.Photo {
			found++
			require.Equal(t, []any{1, "devices/port_controller"}, []any{one.Step, one.Part})
		}
	}
	require.Equal(t, 1, found)
	resp, body = s.ask("GET", photo, "")
	require.Equal(t, "image/png", resp.Header.Get("Content-Type"))
	require.Equal(t, picture.Bytes(), body)
	for _, bad := range []string{"no picture", "<svg/>", ""} {
		resp, body = s.ask("PUT", photo, bad, "Content-Type", "application/octet-stream")
		require.GreaterOrEqual(t, resp.StatusCode, 400, "%s", body)
		require.Less(t, resp.StatusCode, 500)
	}
	picture.Reset()
	require.NoError(t, png.Encode(&picture, image.NewGray(image.Rect(0, 0, maxPixels+1, 2))))
	resp, body = s.ask("PUT", photo, picture.String(), "Content-Type", "application/octet-stream")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "make it smaller")
	resp, _ = s.ask("PUT", photo, strings.Repeat("x", maxPhoto+1), "Content-Type", "application/octet-stream")
	require.Equal(t, 413, resp.StatusCode)
}

// TestAWalkIsCarried: what was ticked in its file comes home by a code, part by part, over what was ticked
// here;
// what it is not of is refused.
func TestAWalkIsCarried(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	_, body := s.ask("POST", at+"/walks", "")
	w := walkOf(t, body)
	one := at + "/walks/" + w.Head.Id.String()
	things := appsheet.WalkThings(w.Steps)
	ticks := &appsheet.Ticks{Revision: 1, Ticked: [][]bool{make([]bool, len(things)), make([]bool, len(things))}}
	ticks.Ticked[appsheet.AsShould][0], ticks.Ticked[appsheet.Otherwise][1] = true, true
	code := appsheet.WalkCode(ticks, appsheet.Mark(w.Head.Id.String(), things))
	resp, body := s.ask("POST", one+"/code", strings.ToLower(code), "Content-Type", "text/plain")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	now := walkOf(t, body)
	require.Len(t, now.Ticks, 2)
	// what was said here of the same stays, when the code comes once more
	step, of, _ := strings.Cut(things[1].Key, "/")
	resp, body = s.ask("POST", one+"/ticks", fmt.Sprintf(`{"step": %s, "parts": [{"part": %q, "seen": "other", "note": "hums"}]}`,
		step, of))
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	resp, body = s.ask("POST", one+"/code", code, "Content-Type", "text/plain")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	now = walkOf(t, body)
	require.Equal(t, "hums", now.Ticks[1].Note+now.Ticks[0].Note)
	seen := map[string]string{}
	for _, tick := range now.Ticks {
		seen[fmt.Sprintf("%d/%s", tick.Step, tick.Part)] = string(tick.Seen)
	}
	require.Equal(t, map[string]string{things[0].Key: string(bench.AsShould),
		things[1].Key: string(bench.Other)}, seen)
	for bad, says := range map[string]string{code[:8]: "compare it letter by letter",
		appsheet.WalkCode(ticks, 7): "another", appsheet.Code(&appsheet.Ticks{Revision: 1, Ticked: [][]bool{{true},
			{true}, {true}}}, 3): "in the place Sheet"} {
		resp, body = s.ask("POST", one+"/code", bad, "Content-Type", "text/plain")
		require.Equal(t, 422, resp.StatusCode, bad)
		require.Contains(t, string(body), says)
	}
	resp, body = s.ask("POST", at+"/ticks", code, "Content-Type", "text/plain")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "in the place Bench")
	for path, begins := range map[string]string{"/sheet.pdf": "%PDF", "/sheet.pdf?paper=A6": "%PDF",
		"/carried.html": "<!doctype html>"} {
		resp, body = s.ask("GET", one+path, "")
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		require.True(t, bytes.HasPrefix(body, []byte(begins)), path)
		require.Contains(t, resp.Header.Get("Content-Disposition"), "marram-walk-r1.")
	}
	resp, body = s.ask("GET", at+"/book.pdf", "")
	require.Equal(t, 200, resp.StatusCode)
	require.True(t, bytes.HasPrefix(body, []byte("%PDF")))
}
