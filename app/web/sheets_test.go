package web

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"axtren/app/contract"
	appsheet "axtren/app/sheet"
	"axtren/app/store"
	"axtren/core/setup"
	"axtren/core/sheet"
	"axtren/core/signal"
)

// codeOf ticks every thing of a sheet off, but for the last box.
func codeOf(t *testing.T, doc *setup.Document, model uuid.UUID, revision int) string {
	t.Helper()
	p, err := signal.Compile(doc.Setup)
	require.NoError(t, err)
	sh := sheet.Build(p)
	ticks := &appsheet.Ticks{Revision: revision, Ticked: make([][]bool, 3)}
	for c := range ticks.Ticked {
		for _, sec := range sh.Sections {
			for range sec.Items {
				ticks.Ticked[c] = append(ticks.Ticked[c], true)
			}
		}
	}
	last := ticks.Ticked[appsheet.Seen]
	last[len(last)-1] = false
	return appsheet.Code(ticks, appsheet.Mark(model.String(), appsheet.Things(sh)))
}

// TestTicksAreTakenAgainstTheirRevision: a code is read against the sheet that it was
// made from, also when the model has gone on; what it is not of is refused.
func TestTicksAreTakenAgainstTheirRevision(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	doc, err := setup.ReadYAML([]byte(stoat(t)))
	require.NoError(t, err)
	code := codeOf(t, doc, m.Id, 1)
	resp, body := s.ask("PATCH", at, low("-80"), "If-Match", `"1"`)
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	resp, body = s.ask("POST", at+"/acts", `{"act":"remove","part":"outputs/horn","along":true}`, "If-Match",
		`"2"`, "Content-Type", "application/json")
	require.Equal(t, 200, resp.StatusCode, "%s", body)

	resp, body = s.ask("POST", at+"/ticks", code, "Content-Type", "text/plain")
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	var ticked contract.Ticked
	require.NoError(t, json.Unmarshal(body, &ticked))
	require.Equal(t, 1, ticked.Revision)
	require.Equal(t, []int{ticked.Of, ticked.Of, ticked.Of - 1},
		[]int{ticked.Keyed, ticked.ReadBack, ticked.Seen})
	require.Len(t, *ticked.Open, 1)
	require.Contains(t, (*ticked.Open)[0], "not seen")
	resp, _ = s.ask("POST", at+"/ticks", strings.ToLower(code), "Content-Type", "text/plain")
	require.Equal(t, 201, resp.StatusCode)

	other := s.bring(stoat(t))
	mistyped := code[:len(code)-1] + "1"
	if mistyped == code {
		mistyped = code[:len(code)-1] + "2"
	}
	for model, bad := range map[string]string{at: mistyped, "/api/models/" + other.Id.String(): code,
		at + "?": codeOf(t, doc, m.Id, 9), at + "?x": ""} {
		path := strings.SplitN(model, "?", 2)[0] + "/ticks"
		resp, body = s.ask("POST", path, bad, "Content-Type", "text/plain")
		require.GreaterOrEqual(t, resp.StatusCode, 400, "%q %s", bad, body)
		require.Less(t, resp.StatusCode, 500)
		require.NotEmpty(t, s.problem(body).Title)
	}
	_, body = s.ask("GET", at+"/ticks", "")
	var list []contract.Ticked
	require.NoError(t, json.Unmarshal(body, &list))
	require.Len(t, list, 2)

	// what changed since that revision
	resp, body = s.ask("GET", at+"/sheet?since=1", "")
	require.Equal(t, 200, resp.StatusCode)
	var changes sheet.Sheet
	require.NoError(t, json.Unmarshal(body, &changes))
	require.Equal(t, 1, changes.Since)
	titles := map[string]bool{}
	for _, sec := range changes.Sections {
		titles[sec.Title] = true
	}
	require.True(t, titles["Ends"] && titles["No longer"] && !titles["Feel"], "%v", titles)
}

// TestEverySheetOfEveryPaper comes as a file of its kind.
func TestEverySheetOfEveryPaper(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	for path, begins := range map[string]string{"sheet.pdf": "%PDF-", "sheet.pdf?paper=A6": "%PDF-",
		"sheet.html": "<!doctype html>", "sheet.csv": "section,"} {
		resp, body := s.ask("GET", fmt.Sprintf("/api/models/%s/%s", m.Id, path), "")
		require.Equal(t, 200, resp.StatusCode, path)
		require.True(t, bytes.HasPrefix(body, []byte(begins)), path)
		require.Contains(t, resp.Header.Get("Content-Disposition"), "stoat-r1.")
	}
}

// TestAPairIsMixedByAnAct: one revision, in words, undone in one.
func TestAPairIsMixedByAnAct(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	mix := func(choice string) (*http.Response, []byte) {
		return s.ask("POST", at+"/acts",
			`{"act":"mix","part":"outputs/port_track","to":"outputs/starboard_track","mixing":`+choice+`}`,
			"If-Match", `"1"`, "Content-Type", "application/json")
	}
	choice := `{"way":"%s","drive":"drive_soft","turn":"turn","left":"blade_up","right":"%s","drive_gain":90,"turn_gain":70,"lever_gain":100,"drive_soft":20,"turn_soft":0,"rule":"scale"}`
	resp, body := mix(fmt.Sprintf(choice, "both", "blade_up"))
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, string(body), "is the lever of Left track already")
	resp, body = mix(`{"way":"both"}`)
	require.Equal(t, 422, resp.StatusCode, "%s", body)
	resp, body = mix(fmt.Sprintf(choice, "both", "blade_side"))
	require.Equal(t, 200, resp.StatusCode, "%s", body)
	require.Equal(t, "Left track and Right track: one stick and a lever each",
		*s.model(body).Undo)
	_, text := s.ask("GET", at+"/export?format=yaml", "")
	doc, err := setup.ReadYAML(text)
	require.NoError(t, err)
	require.Equal(t, "scale", doc.Setup.Shares[0].Rule)
	require.Equal(t, "tracks", string(*doc.Setup.Shares[0].ID), "the share keeps its id")
	resp, _ = s.ask("POST", at+"/undo", "", "If-Match", `"2"`)
	require.Equal(t, 200, resp.StatusCode)
	_, text = s.ask("GET", at+"/export?format=yaml", "")
	back, err := setup.ReadYAML(text)
	require.NoError(t, err)
	want, err := setup.ReadYAML([]byte(stoat(t)))
	require.NoError(t, err)
	require.True(t, want.Tree.Equal(back.Tree), "undone, nothing is left of it")
}

// TestAPictureMayTalkNonsense: it is kept, and said before the water.
func TestAPictureMayTalkNonsense(t *testing.T) {
	s := newSite(t)
	m := s.bring(strings.Replace(stoat(t), "track_mm: 250", "track_mm: 0", 1))
	_, body := s.ask("GET", "/api/models", "")
	var list []contract.Model
	require.NoError(t, json.Unmarshal(body, &list))
	require.Equal(t, m.Id, list[0].Id)
	said := ""
	for _, stand := range *list[0].Stands {
		said += stand.Place + ": " + stand.Words + "\n"
	}
	require.Contains(t, said, "Stage: track_mm is 0.0 mm, so nothing can turn about it")
}

// TestNoPhoneIsLetInWithoutADesk.
func TestNoPhoneIsLetInWithoutADesk(t *testing.T) {
	s := newSite(t)
	resp, body := s.ask("GET", "/api/phones", "")
	require.Equal(t, 200, resp.StatusCode)
	var phones contract.Phones
	require.NoError(t, json.Unmarshal(body, &phones))
	require.Nil(t, phones.Url)
	resp, _ = s.ask("POST", "/api/phones/code", "", "Content-Type", "application/json")
	require.Equal(t, 409, resp.StatusCode)
	resp, _ = s.ask("DELETE", "/api/phones/"+uuid.NewString(), "")
	require.Equal(t, 404, resp.StatusCode)
}

// TestACarriedSheetIsRemembered: its ticks come home by what was noted of it, also
// where the sheet of its revision is written in another way by now; a code of the
// first version is refused with its reason.
func TestACarriedSheetIsRemembered(t *testing.T) {
	s := newSite(t)
	m := s.bring(stoat(t))
	at := "/api/models/" + m.Id.String()
	resp, _ := s.ask("GET", at+"/sheet.html", "")
	require.Equal(t, 200, resp.StatusCode)
	resp, _ = s.ask("GET", at+"/sheet.html", "") // once more: noted once
	require.Equal(t, 200, resp.StatusCode)

	things := []appsheet.Thing{{Key: "ends/a/low", Words: "Ends, as an older program called it"},
		{Key: "ends/a/high", Words: "Ends, another"}}
	text, err := json.Marshal(things)
	require.NoError(t, err)
	mark := appsheet.Mark(m.Id.String(), things)
	require.NoError(t, s.store.KeepCarried(t.Context(),
		store.Carried{ModelID: m.Id, Revision: 1, Mark: int(mark), Things: string(text)}))
	ticks := &appsheet.Ticks{Revision: 1, Ticked: make([][]bool, 3)}
	for c := range ticks.Ticked {
		ticks.Ticked[c] = []bool{c > 0, true}
	}
	resp, body := s.ask("POST", at+"/ticks", appsheet.Code(ticks, mark), "Content-Type", "text/plain")
	require.Equal(t, 201, resp.StatusCode, "%s", body)
	var ticked contract.Ticked
	require.NoError(t, json.Unmarshal(body, &ticked))
	require.Equal(t, []int{2, 1, 2, 2}, []int{ticked.Of, ticked.Keyed, ticked.ReadBack, ticked.Seen})
	require.Equal(t, []string{"Ends, as an older program called it: not keyed"}, *ticked.Open)

	resp, body = s.ask("POST", at+"/ticks", firstVersion, "Content-Type", "text/plain")
	require.Equal(t, 422, resp.StatusCode)
	require.Contains(t, s.problem(body).Title, "an older Axtren wrote")
}

// firstVersion is a code as the first version wrote them: of revision 1, three boxes
// ticked.
const firstVersion = "040G-04HM-001R-938"
