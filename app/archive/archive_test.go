package archive

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"axtren/app/store"
	"axtren/core/setup"
)

func doc(t *testing.T, name string) *setup.Document {
	text, err := os.ReadFile("../../demo/" + name + ".yaml")
	require.NoError(t, err)
	d, err := setup.ReadYAML(text)
	require.NoError(t, err)
	return d
}

func TestAYardComesBackAsItWas(t *testing.T) {
	var b bytes.Buffer
	events := []store.Event{{MadeAt: time.Date(2026, 11, 3, 9, 5, 0, 0, time.UTC), Kind: store.KindRun,
		Minutes: 41,
		Battery: "battery 2", Says: "4.9 V\nat the end"},
		{MadeAt: time.Date(2026, 11, 2, 9, 5, 0, 0, time.UTC), Kind: store.KindValue, Part: "devices/x", Label: "X",
			What: "timing", Was: "8", Becomes: "12"}}
	in := []Entry{{Doc: doc(t, "stoat"), Recordings: []store.Recording{{Name: "rund ums Haus / 1",
		Exact: true, Script: "t_s,control,value\n"}, {Name: "two", Script: "x"}}, Events: events}, {Doc: doc(t,
		"alder")}}
	w := NewWriter(&b)
	for _, one := range in {
		require.NoError(t, w.Add(NewPage(string(one.Doc.Tree.JSON()), one.Recordings, one.Events)))
	}
	require.NoError(t, w.Close())
	out, err := all(b.Bytes())
	require.NoError(t, err)
	require.Len(t, out, 2)
	for i := range in {
		require.NoError(t, out[i].Err)
		require.Equal(t, string(in[i].Doc.Tree.JSON()), string(out[i].Doc.Tree.JSON()),
			"to the byte: order, notes, labels")
		require.Equal(t, in[i].Recordings, out[i].Recordings)
		require.Equal(t, in[i].Events, out[i].Events, "in their order, whatever their clocks say")
	}
}

// TestABadLogIsRefused: by its file, its entry and what is wrong; the other models come in.
func TestABadLogIsRefused(t *testing.T) {
	list := `{"format": "axtren-yard", "version": 1, "models": [{"file": "a.yaml", "recordings": [], "log": "a/log.json"},
		{"file": "b.yaml", "recordings": []}]}`
	good := "format: axtren-setup\nversion: 1\n"
	for text, says := range map[string]string{`{}`: "is no list of what happened",
		`[{"kind": "note", "says": "x"}, {"kind": "party"}]`:                   `a/log.json, entry 2: "party" is nothing that happens`,
		`[{"kind": "run", "minutes": -3}]`:                                     "-3 minutes are not 0 to 100000",
		`[{"kind": "note", "says": "a\u0000b"}]`:                               "no keyboard gives",
		"[" + strings.Repeat(`{"kind": "note"},`, 10000) + `{"kind": "note"}]`: "leave at most 10000 in it"} {
		out, err := all(pack(t, map[string]string{"yard.json": list, "a.yaml": good, "b.yaml": good,
			"a/log.json": text}))
		require.NoError(t, err)
		require.ErrorContains(t, out[0].Err, says)
		require.NoError(t, out[1].Err)
	}
}

// all reads every model of an archive.
func all(text []byte) ([]File, error) {
	files, err := Open(text)
	if err != nil {
		return nil, err
	}
	var list []File
	for i := range files.Len() {
		list = append(list, files.Read(i))
	}
	return list, nil
}

func pack(t *testing.T, files map[string]string) []byte {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range files {
		f, err := z.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestForeignAndHostileArchives(t *testing.T) {
	good := "format: axtren-setup\nversion: 1\n"
	for _, c := range []struct {
		text []byte
		says string
	}{
		{[]byte("not a zip"), "no ZIP"},
		{pack(t, map[string]string{"a.txt": "x"}), "no setup in it"},
		{pack(t, map[string]string{"yard.json": "{"}), "cannot be read"},
		{pack(t, map[string]string{"yard.json": `{"format":"other"}`}), "another format"},
		{pack(t, map[string]string{"a.yaml": good,
			"yard.json": `{"format":"axtren-yard","version":1,"models":[` +
				strings.Repeat(`{"file":"a.yaml"},`, 2999) + `{"file":"a.yaml"}]}`}), "twice"},
		{pack(t, map[string]string{"yard.json": `{"format":"axtren-yard","version":1,"models":[` +
			strings.Repeat(`{"file":"x"},`, maxModels) + `{"file":"y"}]}`}), "at most 5000"},
	} {
		_, err := all(c.text)
		require.ErrorContains(t, err, c.says)
	}
	files, err := all(pack(t, map[string]string{"b.yaml": good, "c.json": "{]",
		"big.yaml": strings.Repeat("#", setup.MaxBytes+1), "../up.yml": good, ".hidden.yaml": good}))
	require.NoError(t, err)
	require.Len(t, files, 4)
	said := map[string]string{}
	for _, f := range files {
		if said[f.Name] = ""; f.Err != nil {
			said[f.Name] = f.Err.Error()
		}
	}
	require.Empty(t, said["b.yaml"])
	require.Empty(t, said["../up.yml"], "a name is only a name: nothing is written anywhere")
	require.Contains(t, said["big.yaml"], "too large")
	require.Contains(t, said["c.json"], "not JSON")
	files, err = all(pack(t,
		map[string]string{"yard.json": `{"format":"axtren-yard","version":1,"models":[{"file":"gone.yaml"}]}`}))
	require.NoError(t, err)
	require.ErrorContains(t, files[0].Err, "not in the archive")
}

// TestNoMoreIsReadThanIsBounded: of documents, and of recordings that many models share.
func TestNoMoreIsReadThanIsBounded(t *testing.T) {
	files := map[string]string{}
	var list []string
	notes := "format: axtren-setup\nversion: 1\ncraft:\n  notes: " + strings.Repeat("n", 900<<10) + "\n"
	for i := range maxParsed/len(notes) + 3 {
		name := fmt.Sprintf("%03d.yaml", i)
		files[name] = notes
		list = append(list, fmt.Sprintf(`{"file":%q}`, name))
	}
	files["yard.json"] = `{"format":"axtren-yard","version":1,"models":[` + strings.Join(list, ",") + `]}`
	out, err := all(pack(t, files))
	require.NoError(t, err)
	require.NoError(t, out[0].Err)
	require.ErrorContains(t, out[len(out)-1].Err, "more than is read of one archive")

	big := strings.Repeat("0,a,1\n", 1<<20)
	one := `{"file":"r.csv","name":"r"}`
	many, err := all(pack(t, map[string]string{"a.yaml": "format: axtren-setup\nversion: 1\n", "r.csv": big,
		"yard.json": `{"format":"axtren-yard","version":1,"models":[{"file":"a.yaml","recordings":[` +
			strings.Repeat(one+",", 60) + one + `]}]}`}))
	require.NoError(t, err)
	require.ErrorContains(t, many[0].Err, "too large", "what is unpacked again counts again")
}
