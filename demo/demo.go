// Package demo is the made-up yard that a new database starts with. Every club,
// person and model in it is invented.
package demo

import (
	"embed"
	"fmt"
	"io/fs"
	"path"
	"slices"
	"strings"

	"axtren/core/setup"
)

//go:embed *.yaml */*.csv
var files embed.FS

// Model is one model of the yard, with hands worth playing.
type Model struct {
	Doc        *setup.Document
	Recordings []Recording
}

// Recording is a script of what hands did.
type Recording struct{ Name, Script string }

// first is the model that is opened first: it is made last, so that it stands above the others.
const first = "stoat.yaml"

// Yard reads the models, in the order of their file names, first at the end. The recordings of
// stoat.yaml are the files of the folder stoat, named as they are called.
func Yard() ([]Model, error) {
	entries, err := fs.Glob(files, "*.yaml")
	if err != nil {
		return nil, err
	}
	if at := slices.Index(entries, first); at >= 0 {
		entries = append(slices.Delete(entries, at, at+1), first)
	}
	var yard []Model
	for _, name := range entries {
		text, err := files.ReadFile(name)
		if err != nil {
			return nil, err
		}
		doc, err := setup.ReadYAML(text)
		if err != nil {
			return nil, fmt.Errorf("demo/%s: %w", name, err)
		}
		m := Model{Doc: doc}
		scripts, err := fs.Glob(files, strings.TrimSuffix(name, ".yaml")+"/*.csv")
		if err != nil {
			return nil, err
		}
		for _, script := range scripts {
			text, err := files.ReadFile(script)
			if err != nil {
				return nil, err
			}
			called := strings.ReplaceAll(strings.TrimSuffix(path.Base(script), ".csv"), "-", " ")
			m.Recordings = append(m.Recordings, Recording{called, string(text)})
		}
		yard = append(yard, m)
	}
	return yard, nil
}
