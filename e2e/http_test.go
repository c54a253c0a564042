package e2e

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"regexp"
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

// TestThePageComesSmallAndOnce: its script and style compressed as they were built, in the bytes
// that they are without; and what a browser has already is not sent again.
func TestThePageComesSmallAndOnce(t *testing.T) {
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop()) })
	get := gets(t, app)
	page, text := get("/", nil)
	require.Equal(t, "text/html; charset=utf-8", page.Header.Get("Content-Type"))
	again, _ := get("/", map[string]string{"If-None-Match": page.Header.Get("ETag")})
	require.Equal(t, http.StatusNotModified, again.StatusCode)
	assets := regexp.MustCompile(`/assets/[^"]+`).FindAllString(string(text), -1)
	require.Greater(t, len(assets), 3)
	for _, one := range assets {
		plain, whole := get(one, nil)
		require.Empty(t, plain.Header.Get("Content-Encoding"), one)
		packed, small := get(one, map[string]string{"Accept-Encoding": "gzip, deflate"})
		require.Equal(t, "gzip", packed.Header.Get("Content-Encoding"), one)
		require.Equal(t, "Accept-Encoding", packed.Header.Get("Vary"))
		require.Contains(t, packed.Header.Get("Cache-Control"), "immutable")
		require.Equal(t, plain.Header.Get("Content-Type"), packed.Header.Get("Content-Type"))
		unpacked, err := gzip.NewReader(bytes.NewReader(small))
		require.NoError(t, err)
		back, err := io.ReadAll(unpacked)
		require.NoError(t, err)
		require.Equal(t, whole, back, one)
		if len(whole) > 5000 {
			require.Less(t, len(small), len(whole)/2, one)
		}
		require.NotEqual(t, plain.Header.Get("ETag"), packed.Header.Get("ETag"))
	}
}

// TestAPageNamesWhatItsPlaceNeeds: the modules and styles of the place that is asked for come with
// the page, and those of other places do not.
func TestAPageNamesWhatItsPlaceNeeds(t *testing.T) {
	app, err := rig.Start(binary, t.Name())
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, app.Stop()) })
	get := gets(t, app)
	model := "/models/0d3f3a94-0000-4000-8000-000000000000"
	named := regexp.MustCompile(`/assets/([A-Z][a-z]+)(?:Place|Places)-[^"]+\.js`)
	for path, want := range map[string][]string{
		"/": {"Yard"}, model: {"Model", "Functions"}, model + "/": {"Model", "Functions"},
		model + "/functions": {"Model", "Functions"}, model + "/kit": {"Model", "Kit"},
		model + "/mixing": {"Model", "Mixing"}, model + "/rules": {"Model", "Rules"},
		model + "/loss": {"Model", "Loss"}, model + "/stage": {"Model", "Stage"},
		model + "/sheet": {"Model", "Sheet"}, model + "/log": {"Model", "Log"},
		model + "/nothing": {"Model"}, "/nothing": nil, "/models": nil,
	} {
		_, text := get(path, nil)
		var got []string
		for _, one := range named.FindAllStringSubmatch(string(text), -1) {
			got = append(got, one[1])
		}
		require.Equal(t, want, got, path)
		links := regexp.MustCompile(`href="(/assets/[^"]+)"`).FindAllStringSubmatch(string(text), -1)
		once := map[string]bool{}
		for _, one := range links {
			require.False(t, once[one[1]], "%s names %s twice", path, one[1])
			once[one[1]] = true
			asset, _ := get(one[1], nil)
			require.Equal(t, http.StatusOK, asset.StatusCode, one[1])
		}
	}
}

// gets asks an application for what is at a path, as it is sent.
func gets(t *testing.T, app *rig.App) func(path string, header map[string]string) (*http.Response, []byte) {
	return func(path string, header map[string]string) (*http.Response, []byte) {
		r, err := http.NewRequestWithContext(t.Context(), "GET", app.URL+path, nil)
		require.NoError(t, err)
		r.Header.Set("Accept-Encoding", "identity") // else the library asks for gzip, and hides it
		for key, value := range header {
			r.Header.Set(key, value)
		}
		resp, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer resp.Body.Close()
		body, err := io.ReadAll(resp.Body)
		require.NoError(t, err)
		return resp, body
	}
}
