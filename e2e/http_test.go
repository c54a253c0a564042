package e2e

import (
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/e2e/rig"
)

var client = &http.Client{Timeout: 5 * time.Second}

type described struct {
	ID       string `json:"id"`
	Name     string `json:"name"`
	Revision int    `json:"revision"`
}

// firstModel gives the id of the Stoat.
func firstModel(t *testing.T, app *rig.App) string {
	answer, err := client.Get(app.URL + "/api/models")
	require.NoError(t, err)
	defer answer.Body.Close()
	var list []described
	require.NoError(t, json.NewDecoder(answer.Body).Decode(&list))
	for _, m := range list {
		if m.Name == "Stoat" {
			return m.ID
		}
	}
	require.Fail(t, "there is no Stoat")
	return ""
}

func headOf(t *testing.T, app *rig.App, id string) int {
	answer, err := client.Get(app.URL + "/api/models/" + id)
	require.NoError(t, err)
	defer answer.Body.Close()
	var m described
	require.NoError(t, json.NewDecoder(answer.Body).Decode(&m))
	return m.Revision
}

// revisionOf is headOf where the application may not answer just now.
func revisionOf(app *rig.App, id string) (revision int, ok bool) {
	answer, err := client.Get(app.URL + "/api/models/" + id)
	if err != nil {
		return 0, false
	}
	defer answer.Body.Close()
	var m described
	if answer.StatusCode != http.StatusOK || json.NewDecoder(answer.Body).Decode(&m) != nil {
		return 0, false
	}
	return m.Revision, true
}

var edits int

// editLow makes one revision and gives its number; false where it was not
// acknowledged.
func editLow(url, id string, against int) (revision int, ok bool) {
	edits++
	patch := fmt.Sprintf(
		`[{"op":"test","path":"/outputs/2/id","value":"blade_lift"},{"op":"add","path":"/outputs/2/low","value":%d}]`, -20-edits%80)
	r, err := http.NewRequest(http.MethodPatch, url+"/api/models/"+id, strings.NewReader(patch))
	if err != nil {
		return 0, false
	}
	r.Header.Set("Content-Type", "application/json-patch+json")
	r.Header.Set("If-Match", fmt.Sprintf("%q", fmt.Sprint(against)))
	r.Header.Set("Axtren-Page", "a test")
	r.Header.Set("Axtren-Edit", fmt.Sprint(edits))
	answer, err := client.Do(r)
	if err != nil {
		return 0, false
	}
	defer answer.Body.Close()
	var m described
	if answer.StatusCode != http.StatusOK || json.NewDecoder(answer.Body).Decode(&m) != nil {
		return 0, false
	}
	return m.Revision, true
}
