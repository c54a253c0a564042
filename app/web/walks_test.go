package web

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	"axtren/app/store"
	"axtren/core/bench"
	"axtren/demo"
)

// walkOf reads a walk out of an answer that fits the contract.
func walkOf(t *testing.T, body []byte) contract.Walk {
	t.Helper()
	fitsAs(t, "Walk", body)
	var w contract.Walk
	require.NoError(t, json.Unmarshal(body, &w))
	return w
}

// tugOf brings the tug of the demo in.
func tugOf(t *testing.T, s *site) contract.Model {
	t.Helper()
	yard, err := demo.Yard()
	require.NoError(t, err)
	for _, m := range yard {
		if m.Doc.Setup.Name == "Marram" {
			return s.bring(string(m.Doc.Tree.YAML()))
		}
	}
	t.Fatal("there is no tug")
	return contract.Model{}
}

// TestAWalkIsKept: its steps are of the revision for which they were worked out; what was seen is kept
// part by
// part, the last that was said counts, from two phones too; signed it stands for the document as it is
// exported,
// and nothing changes it any more.
func TestAWalkIsKept(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String() + "/walks"
	_, body := s.ask("GET", at, "")
	require.JSONEq(t, "[]", string(body))
	resp, body := s.ask("POST", at, "")
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	w := walkOf(t, body)
	require.False(t, w.Head.Whole)
	require.Equal(t, 1, w.Head.Revision)
	require.Equal(t, len(w.Steps), w.Head.Of)
	require.Greater(t, len(w.Steps), 6)
	require.NotEmpty(t, w.Safe)
	require.Empty(t, w.Ticks)
	require.Zero(t, w.Head.Done)

	one := at + "/" + w.Head.Id.String()
	tick := func(step int, parts ...string) contract.Walk {
		var list []string
		for i := 0; i < len(parts); i += 2 {
			list = append(list, fmt.Sprintf(`{"part": %q, "seen": %q, "note": "so"}`, parts[i], parts[i+1]))
		}
		resp, body := s.ask("POST", one+"/ticks", fmt.Sprintf(`{"step": %d, "parts": [%s]}`, step,
			strings.Join(list, ", ")))
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		return walkOf(t, body)
	}
	first := w.Steps[0]
	tick(0, first.Parts[0].Of, "as")
	tick(0, first.Parts[1].Of, "other")
	now := tick(0, first.Parts[0].Of, "nothing") // the other phone
	require.Len(t, now.Ticks, 2)
	require.Zero(t, now.Head.Done)
	require.Equal(t, 1, now.Head.Other)
	require.Len(t, now.Went, len(w.Steps))
	for n, went := range now.Went {
		require.Equal(t, []bool{false, n == 0}, []bool{went.Done, went.Other})
	}
	seen := map[string]contract.WalkTickSeen{}
	for _, one := range now.Ticks {
		seen[one.Part] = one.Seen
		require.Equal(t, "so", one.Note)
	}
	require.Equal(t, map[string]contract.WalkTickSeen{first.Parts[0].Of: contract.Nothing,
		first.Parts[1].Of: contract.Other}, seen)
	require.Len(t, tick(0, first.Parts[1].Of, "").Ticks, 1, "it is taken back")
	for n := range w.Steps {
		parts := []string{}
		for _, part := range w.Steps[n].Looked() {
			parts = append(parts, part, "as")
		}
		now = tick(n, parts...)
		require.Equal(t, n+1, now.Head.Done)
	}
	require.Zero(t, now.Head.Other)

	// another edit changes nothing of it, and its signature stands for the revision that was walked
	_, text := s.ask("GET", "/api/models/"+m.Id.String()+"/export?format=yaml", "")
	resp, body = s.ask("PATCH", "/api/models/"+m.Id.String(), `[{"op":"replace","path":"/name","value":"Tug"}]`,
		"If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	_, body = s.ask("GET", one, "")
	now = walkOf(t, body)
	require.Equal(t, 1, now.Head.Revision)
	require.Equal(t, 2, now.Now)
	resp, body = s.ask("POST", one+"/signature", `{"who": " ", "battery": "", "note": ""}`)
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "write who you are")
	resp, body = s.ask("POST", one+"/signature", `{"who": "a founder", "battery": "battery 1", "note": "on the pond"}`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	now = walkOf(t, body)
	sum := sha256.Sum256(text)
	require.Equal(t, hex.EncodeToString(sum[:]), now.Head.Signed.Hash)
	require.Equal(t, "a founder", now.Head.Signed.Who)
	for _, change := range []struct{ method, path, body string }{
		{"POST", "/ticks", `{"step": 0, "parts": [{"part": "rest", "seen": "as", "note": ""}]}`},
		{"POST", "/signature", `{"who": "another", "battery": "", "note": ""}`}, {"DELETE", "", ""}} {
		resp, body := s.ask(change.method, one+change.path, change.body)
		require.Equal(t, 409, resp.StatusCode, "%s", body)
		require.Contains(t, string(body), "This walk was signed")
	}
	_, body = s.ask("GET", at, "")
	var list []contract.WalkHead
	require.NoError(t, json.Unmarshal(body, &list))
	require.Len(t, list, 1)
	require.Equal(t, now.Head, list[0])
}

// allSeen ticks everything of a walk as it should be, and signs it.
func allSeen(t *testing.T, s *site, at string, w contract.Walk) {
	t.Helper()
	for n := range w.Steps {
		var list []string
		for _, part := range w.Steps[n].Looked() {
			list = append(list, fmt.Sprintf(`{"part": %q, "seen": "as", "note": ""}`, part))
		}
		resp, body := s.ask("POST", at+"/walks/"+w.Head.Id.String()+"/ticks", fmt.Sprintf(`{"step": %d, "parts": [%s]}`, n,
			strings.Join(list, ", ")))
		require.Equal(t, 200, resp.StatusCode, "%s", body)
	}
	resp, body := s.ask("POST", at+"/walks/"+w.Head.Id.String()+"/signature",
		`{"who": "a founder", "battery": "battery 1", "note": ""}`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
}

// againOf tells what has to be tried again.
func againOf(t *testing.T, s *site, at string) (told contract.WalkAgain) {
	t.Helper()
	resp, body := s.ask("GET", at+"/again", "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	fitsAs(t, "WalkAgain", body)
	require.NoError(t, json.Unmarshal(body, &told))
	return told
}

// TestWhatHasToBeTriedAgain: of the walks that were signed what a change touches, by what was changed, with
// the
// names that people know; a walk of that alone, and nothing is left; Models says how it stands.
func TestWhatHasToBeTriedAgain(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	stands := func() string {
		_, body := s.ask("GET", "/api/models", "")
		var list []contract.Model
		require.NoError(t, json.Unmarshal(body, &list))
		for _, one := range *list[0].Stands {
			if one.Place == "Bench" {
				return one.Severity + ": " + one.Words
			}
		}
		return ""
	}
	trying := func() string {
		_, body := s.ask("GET", at+"/trying", "")
		var told struct{ Says string }
		require.NoError(t, json.Unmarshal(body, &told))
		return told.Says
	}
	require.Equal(t, contract.WalkAgain{Revision: 1, Parts: []string{}, Changes: []bench.Cause{}}, againOf(t, s,
		at))
	require.Equal(t, "note: it was never tried", stands())
	resp, body := s.ask("POST", at+"/walks?again=true", "")
	require.Equal(t, 409, resp.StatusCode)
	require.Contains(t, string(body), "try the whole model")
	_, body = s.ask("POST", at+"/walks", "")
	w := walkOf(t, body)
	require.Empty(t, w.Of)
	allSeen(t, s, at, w)
	first := againOf(t, s, at)
	require.Equal(t, w.Head.Id, first.Last.Id)
	require.Empty(t, first.Changes)
	require.Empty(t, stands())
	require.Equal(t, "tried and signed", trying())
	resp, body = s.ask("PATCH", at, `[{"op": "test", "path": "/outputs/0/id", "value": "rudder"},
		{"op": "replace", "path": "/outputs/0/high", "value": 60}]`, "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	now := againOf(t, s, at)
	require.Equal(t, 2, now.Revision)
	require.Equal(t, []string{"Rudder servo"}, now.Parts)
	require.Len(t, now.Changes, 1)
	require.Equal(t, "Rudder: “high end” changed from 74 to 60.", now.Changes[0].Says)
	require.Equal(t, []string{"Rudder"}, now.Changes[0].Parts)
	require.Positive(t, now.Changes[0].Steps)
	require.Less(t, now.Changes[0].Steps, len(w.Steps))
	require.Equal(t, "warning: try Rudder servo again: Rudder: “high end” changed from 74 to 60", stands())
	require.Equal(t, "1 part to try again", trying())

	resp, body = s.ask("POST", at+"/walks?again=true", "")
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	some := walkOf(t, body)
	require.Equal(t, []string{"Rudder servo"}, some.Of)
	require.Equal(t, 1, some.Head.Some)
	require.Less(t, len(some.Steps), len(w.Steps))
	for _, step := range some.Steps {
		for _, part := range step.Parts {
			require.Equal(t, "devices/rudder_servo", part.Of)
		}
	}
	allSeen(t, s, at, some)
	require.Empty(t, againOf(t, s, at).Parts)
	require.Equal(t, "tried and signed", trying())
	require.Empty(t, stands())

	// what did otherwise has to be tried again, though nothing was changed
	_, body = s.ask("POST", at+"/walks", "")
	w = walkOf(t, body)
	part := w.Steps[0].Parts[0]
	resp, body = s.ask("POST", at+"/walks/"+w.Head.Id.String()+"/ticks",
		fmt.Sprintf(`{"step": 0, "parts": [{"part": %q, "seen": "nothing", "note": ""}]}`, part.Of))
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	resp, body = s.ask("POST", at+"/walks/"+w.Head.Id.String()+"/signature", `{"who": "a founder", "battery": "", "note": ""}`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	says := map[string]bool{}
	for _, cause := range againOf(t, s, at).Changes {
		says[cause.Says] = true
	}
	require.Equal(t, map[string]bool{"It did otherwise when it was tried.": true, "It was not tried.": true},
		says)
}

// TestOneWalkHidesNoModel: where what was tried of a model cannot be read the list says so of that one, and
// has
// all the others.
func TestOneWalkHidesNoModel(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	_, body := s.ask("POST", at+"/walks", "")
	allSeen(t, s, at, walkOf(t, body))
	s.exec("update walks set steps = '{'")
	resp, body := s.ask("GET", "/api/models", "")
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	var list []contract.Model
	require.NoError(t, json.Unmarshal(body, &list))
	require.Len(t, list, 2)
	said := map[string]string{}
	for _, one := range list {
		for _, stand := range *one.Stands {
			if stand.Place == "Bench" {
				said[one.Name] = stand.Words
			}
		}
	}
	require.Equal(t, map[string]string{"Stoat": "it was never tried",
		"Marram": "what was tried before cannot be compared with it any more: try it anew"}, said)
}

// TestAPartIsExchanged: what has to be set and tried again is told before it is noted; then the document says
// when it was built in, what was found with the old one is out of date, and so is what was tried of it alone.
func TestAPartIsExchanged(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	_, body := s.ask("POST", at+"/walks", "")
	allSeen(t, s, at, walkOf(t, body))
	note := func(text string) (int, string) {
		resp, body := s.ask("POST", at+"/events", text)
		return resp.StatusCode, string(body)
	}
	code, said := note(`{"id": "` + uuid.NewString() + `", "kind": "value", "part": "devices/rudder_servo", "what": "speed",
		"was": "", "becomes": "6", "says": "", "minutes": 0, "battery": "", "on": ""}`)
	require.Equal(t, 201, code, said)
	ask := func(part string) (told contract.ExchangeTold) {
		resp, body := s.ask("GET", at+"/exchange?part="+part, "")
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		fitsAs(t, "ExchangeTold", body)
		require.NoError(t, json.Unmarshal(body, &told))
		return told
	}
	told := ask("devices/rudder_servo")
	require.Equal(t, "Rudder servo", told.Label)
	require.Equal(t, []string{"Rudder servo: speed, 6"}, told.Values)
	require.Contains(t, told.Sets[0].Says, "Of Rudder, find on the stand again")
	require.Len(t, told.Tries, 1)
	require.True(t, strings.HasPrefix(told.Tries[0], "Rudder"), told.Tries[0])
	require.NotContains(t, told.Tries[0], "Port screw")
	require.Empty(t, againOf(t, s, at).Parts, "nothing is noted yet")
	require.Contains(t, strings.Join(ask("transmitter").Tries, " "), "Port screw")
	resp, body := s.ask("GET", at+"/exchange?part=devices/none", "")
	require.Equal(t, 422, resp.StatusCode, "%s", body)

	exchange := func(part, on string) (int, string) {
		return note(fmt.Sprintf(`{"id": %q, "kind": "exchange", "part": %q, "what": "", "was": "", "becomes": "",
			"says": "the old one hummed", "minutes": 0, "battery": "", "on": %q}`, uuid.NewString(), part, on))
	}
	code, said = exchange("devices/rudder_servo", "")
	require.Equal(t, 422, code)
	require.Contains(t, said, "write the day")
	code, said = exchange("devices/rudder_servo", "27 Nov, 14:02")
	require.Equal(t, 201, code, said)
	_, text := s.ask("GET", at+"/export?format=yaml", "")
	require.Contains(t, string(text), "27 Nov, 14:02")
	now := againOf(t, s, at)
	require.Equal(t, []string{"Rudder servo"}, now.Parts)
	require.Len(t, now.Changes, 1)
	require.Equal(t, "Rudder servo was exchanged.", now.Changes[0].Says)
	_, body = s.ask("GET", at+"/stand", "")
	require.Contains(t, string(body), "again")

	code, said = exchange("transmitter", "")
	require.Equal(t, 201, code, said)
	require.Greater(t, len(againOf(t, s, at).Parts), 5)

	// what is noted in mid-walk counts after it is signed: nobody knows what was tried by then
	_, body = s.ask("POST", at+"/walks", "")
	w := walkOf(t, body)
	allSeen(t, s, at, w)
	require.Empty(t, againOf(t, s, at).Parts)
	_, body = s.ask("POST", at+"/walks", "")
	w = walkOf(t, body)
	code, said = exchange("devices/port_controller", "28 Nov, 9:00")
	require.Equal(t, 201, code, said)
	allSeen(t, s, at, w)
	require.Equal(t, []string{"Port controller"}, againOf(t, s, at).Parts)

	// where it cannot be noted any more, the document is not changed either
	s.exec("insert into events (id, model_id, revision, made_at, kind, says) select gen_random_uuid(), $1, 1, "+
		"now(), 'note', 'n' from generate_series(1, $2::int)", m.Id, store.MaxEvents)
	_, before := s.ask("GET", at, "")
	code, said = exchange("devices/rudder_servo", "29 Nov, 8:00")
	require.Equal(t, 409, code, said)
	require.Contains(t, said, "So much has been noted")
	_, after := s.ask("GET", at, "")
	require.JSONEq(t, string(before), string(after))
}

// TestWalksAreBounded: of those that nobody has signed the newest stay; one is thrown away; what is no
// step, no
// part and nothing that is seen is refused in words.
func TestWalksAreBounded(t *testing.T) {
	s := newSite(t)
	m := s.bring("format: axtren-setup\nversion: 1\n")
	at := "/api/models/" + m.Id.String() + "/walks"
	var ids []uuid.UUID
	for n := range 7 {
		resp, body := s.ask("POST", at+"?whole="+fmt.Sprint(n%2 == 1), "")
		require.Equal(t, 201, resp.StatusCode, "%s", body)
		w := walkOf(t, body)
		require.Equal(t, n%2 == 1, w.Head.Whole)
		ids = append(ids, w.Head.Id)
	}
	heads := func() (list []contract.WalkHead) {
		_, body := s.ask("GET", at, "")
		require.NoError(t, json.Unmarshal(body, &list))
		return list
	}
	list := heads()
	require.Len(t, list, 5)
	for n := range list {
		require.Equal(t, ids[6-n], list[n].Id, "the newest first")
	}
	resp, _ := s.ask("GET", at+"/"+ids[0].String(), "")
	require.Equal(t, 404, resp.StatusCode)
	resp, _ = s.ask("DELETE", at+"/"+ids[6].String(), "")
	require.Equal(t, 204, resp.StatusCode)
	require.Len(t, heads(), 4)

	one := at + "/" + ids[5].String() + "/ticks"
	for bad, says := range map[string]string{
		`{"step": 99, "parts": []}`:                                          "There is no such step",
		`{"step": 0, "parts": [{"part": "x", "seen": "as", "note": ""}]}`:    "There is no such part",
		`{"step": 0, "parts": [{"part": "rest", "seen": "so", "note": ""}]}`: "There is no such part",
		`{"step": 0, "more": 1, "parts": []}`:                                "not what the contract asks for",
		`{"step": 0, `:                                                       "not what the contract asks for",
	} {
		resp, body := s.ask("POST", one, bad)
		require.Equal(t, 422, resp.StatusCode, bad)
		require.Contains(t, string(body), says, bad)
	}
	resp, body := s.ask("POST", at+"/"+uuid.NewString()+"/ticks", `{"step": 0, "parts": []}`)
	require.Equal(t, 404, resp.StatusCode)
	require.Contains(t, string(body), "There is no such walk")
}
