// Package demo is the made-up yard that a new database starts with. Every club,
// person and model in it is invented.
package demo

import (
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/google/uuid"

	"axtren/core/setup"
)

//go:embed *.yaml */*.csv shelf log.json
var files embed.FS

// Model is one model of the yard, with hands worth playing.
type Model struct {
	Doc        *setup.Document
	Recordings []Recording
	Notes      []Note
}

// Note is something that was noted of a model: what is planted in it to be found, among others.
type Note struct {
	Kind, Part, Label, What, Was, Becomes, Says, Battery string
	Minutes                                              int
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
	text, err := files.ReadFile("log.json")
	if err != nil {
		return nil, err
	}
	var notes map[string][]Note
	if err := json.Unmarshal(text, &notes); err != nil {
		return nil, fmt.Errorf("demo/log.json: %w", err)
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
		m := Model{Doc: doc, Notes: notes[doc.Setup.Name]}
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

// Piece is one piece of the made-up shelf that the models share.
type Piece struct {
	Key   uuid.UUID // as the models know it
	Doc   *setup.Document
	Later []byte // a patch of what was found out about it later; nil for nothing
}

// keys are those of the pieces, by the names of their files in the folder shelf.
var keys = map[string]string{
	"fourteen-channel-hand-set": "5a17ae5b-0f14-4c5e-9d20-6b1f0a7c0001",
	"twelve-channel-hand-set":   "5a17ae5b-0f14-4c5e-9d20-6b1f0a7c0002",
	"ten-pin-receiver":          "5a17ae5b-0f14-4c5e-9d20-6b1f0a7c0003",
	"rudder-servo":              "5a17ae5b-0f14-4c5e-9d20-6b1f0a7c0004",
}

// Shelf reads the pieces, in the order of their file names.
func Shelf() ([]Piece, error) {
	var shelf []Piece
	for _, name := range slices.Sorted(maps.Keys(keys)) {
		text, err := files.ReadFile("shelf/" + name + ".yaml")
		if err != nil {
			return nil, err
		}
		p := Piece{Key: uuid.MustParse(keys[name])}
		if p.Doc, err = setup.ReadYAML(text); err != nil {
			return nil, fmt.Errorf("demo/shelf/%s.yaml: %w", name, err)
		}
		if later, err := files.ReadFile("shelf/" + name + ".json"); err == nil {
			p.Later = later
		}
		shelf = append(shelf, p)
	}
	return shelf, nil
}
