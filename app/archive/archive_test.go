package archive

import (
	"archive/zip"
	"bytes"
	"os"
	"strings"
	"testing"

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
	in := []Entry{{Doc: doc(t, "stoat"), Recordings: []store.Recording{{Name: "rund ums Haus / 1", Exact: true, Script: "t_s,control,value\n"}, {Name: "two", Script: "x"}}}, {Doc: doc(t, "alder")}}
	require.NoError(t, Write(&b, in))
	out, err := Read(b.Bytes())
	require.NoError(t, err)
	require.Len(t, out, 2)
	for i := range in {
		require.NoError(t, out[i].Err)
		require.Equal(t, string(in[i].Doc.Tree.JSON()), string(out[i].Doc.Tree.JSON()), "to the byte: order, notes, labels")
		require.Equal(t, in[i].Recordings, out[i].Recordings)
	}
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
	} {
		_, err := Read(c.text)
		require.ErrorContains(t, err, c.says)
	}
	files, err := Read(pack(t, map[string]string{"b.yaml": good, "c.json": "{]", "big.yaml": strings.Repeat("#", setup.MaxBytes+1), "../up.yml": good, ".hidden.yaml": good}))
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
	files, err = Read(pack(t, map[string]string{"yard.json": `{"format":"axtren-yard","version":1,"models":[{"file":"gone.yaml"}]}`}))
	require.NoError(t, err)
	require.ErrorContains(t, files[0].Err, "not in the archive")
}
