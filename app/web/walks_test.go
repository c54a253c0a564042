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

// TestWhatHasToBeTriedAgain: of a walk of an older revision what a change touches, by what was changed,
// with the
// names that people know; nothing where nothing was.
func TestWhatHasToBeTriedAgain(t *testing.T) {
	s := newSite(t)
	m := tugOf(t, s)
	at := "/api/models/" + m.Id.String()
	_, body := s.ask("POST", at+"/walks", "")
	w := walkOf(t, body)
	again := func() (told contract.WalkAgain) {
		resp, body := s.ask("GET", at+"/walks/"+w.Head.Id.String()+"/again", "")
		require.Equal(t, 200, resp.StatusCode, "%s", body)
		fitsAs(t, "WalkAgain", body)
		require.NoError(t, json.Unmarshal(body, &told))
		return told
	}
	require.Equal(t, contract.WalkAgain{Revision: 1, Of: len(w.Steps), Changes: []bench.Cause{}}, again())
	resp, body := s.ask("PATCH", at, `[{"op": "test", "path": "/outputs/0/id", "value": "rudder"},
		{"op": "replace", "path": "/outputs/0/high", "value": 60}]`, "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	now := again()
	require.Equal(t, 2, now.Revision)
	require.Equal(t, []bench.Cause{{Says: "Rudder: “high end” changed from 74 to 60.", Parts: []string{"Rudder"},
		Steps: now.Steps}}, now.Changes)
	require.Positive(t, now.Steps)
	require.Less(t, now.Steps, len(w.Steps))
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
