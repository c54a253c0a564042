// Package archive writes a whole yard, and the shelf, into one ZIP file, and reads it back:
// docs/format.md, section 12.
package archive

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"axtren/app/store"
	"axtren/core/setup"
)

// Limits of an archive, looked at before anything is kept.
const (
	MaxBytes    = 32 << 20 // of the archive
	maxFiles    = 20_000
	maxModels   = 5000
	maxScript   = 8 << 20
	maxLog      = 16 << 20
	maxUnzipped = 256 << 20 // of all that is read of it together
	maxParsed   = 96 << 20  // of the documents among it
)

// Entry is one model with what hands did to it.
type Entry struct {
	Doc        *setup.Document
	Recordings []store.Recording
	Events     []store.Event // what happened to it
}

// File is one model, or one piece, that was read: Err says why it is none.
type File struct {
	Name string
	Entry
	Key      uuid.UUID // of a piece
	Revision int       // of a piece
	Err      error
}

// list is the list of contents, yard.json.
type list struct {
	Format  string  `json:"format"`
	Version int     `json:"version"`
	Models  []model `json:"models"`
	Pieces  []piece `json:"pieces,omitempty"` // of the shelf
}

type piece struct {
	File     string `json:"file"`
	Piece    string `json:"piece"` // its key
	Revision int    `json:"revision"`
}

type model struct {
	File       string      `json:"file"`
	Recordings []recording `json:"recordings"`
	Log        string      `json:"log,omitempty"` // the file of what happened to it
}

// event is something that happened to a model, as an archive has it.
type event struct {
	At      time.Time `json:"at"`
	Kind    string    `json:"kind"`
	Part    string    `json:"part,omitempty"`
	Label   string    `json:"label,omitempty"`
	What    string    `json:"what,omitempty"`
	Was     string    `json:"was,omitempty"`
	Becomes string    `json:"becomes,omitempty"`
	Says    string    `json:"says,omitempty"`
	Minutes int       `json:"minutes,omitempty"`
	Battery string    `json:"battery,omitempty"`
}

type recording struct {
	File  string `json:"file"`
	Name  string `json:"name"`
	Exact bool   `json:"exact"`
}

const listName = "yard.json"

// Writer writes an archive, one model after the other, so that no more than one is held.
type Writer struct {
	zip      *zip.Writer
	contents list
}

// NewWriter begins an archive.
func NewWriter(w io.Writer) *Writer {
	return &Writer{zip.NewWriter(w), list{Format: "axtren-yard", Version: 1, Models: []model{}}}
}

// Page is a model as an archive has it.
type Page struct {
	name, ending string
	text         []byte
	recordings   []store.Recording
	events       []store.Event
}

// NewPage makes the page of a model as it is kept, a document in JSON, with what hands did to
// it and what happened to it: the document in YAML; what is no JSON as it is.
func NewPage(kept string, recordings []store.Recording, events []store.Event) Page {
	tree, problems := setup.ParseJSON([]byte(kept))
	if problems != nil {
		return Page{"unreadable", ".json", []byte(kept), recordings, events}
	}
	name := ""
	if n := tree.Get("name"); n != nil {
		name = plain(n.Text)
	}
	return Page{name, ".yaml", tree.YAML(), recordings, events}
}

// Add writes the page of a model.
func (w *Writer) Add(p Page) error {
	stem := fmt.Sprintf("%03d-%s", len(w.contents.Models)+1, p.name)
	m := model{File: stem + p.ending, Recordings: []recording{}}
	if err := w.put(m.File, p.text); err != nil {
		return err
	}
	for k, r := range p.recordings {
		name := fmt.Sprintf("%s/%03d.csv", stem, k+1)
		m.Recordings = append(m.Recordings, recording{name, r.Name, r.Exact})
		if err := w.put(name, []byte(r.Script)); err != nil {
			return err
		}
	}
	if len(p.events) > 0 {
		list := make([]event, len(p.events))
		for i, e := range p.events {
			list[i] = event{e.MadeAt.UTC(), e.Kind, e.Part, e.Label, e.What, e.Was, e.Becomes, e.Says, e.Minutes,
				e.Battery}
		}
		text, err := json.MarshalIndent(list, "", "  ")
		if err != nil {
			return err
		}
		m.Log = stem + "/log.json"
		if err := w.put(m.Log, text); err != nil {
			return err
		}
	}
	w.contents.Models = append(w.contents.Models, m)
	return nil
}

// AddPiece writes a piece of the shelf as it is kept, a document in JSON.
func (w *Writer) AddPiece(key uuid.UUID, revision int, kept string) error {
	p := NewPage(kept, nil, nil)
	file := fmt.Sprintf("shelf/%03d%s", len(w.contents.Pieces)+1, p.ending)
	w.contents.Pieces = append(w.contents.Pieces, piece{file, key.String(), revision})
	return w.put(file, p.text)
}

func (w *Writer) put(name string, text []byte) error {
	f, err := w.zip.Create(name)
	if err != nil {
		return err
	}
	_, err = f.Write(text)
	return err
}

// Close writes the list of contents, and ends the archive.
func (w *Writer) Close() error {
	text, err := json.MarshalIndent(w.contents, "", "  ")
	if err != nil {
		return err
	}
	if err := w.put(listName, text); err != nil {
		return err
	}
	return w.zip.Close()
}

// plain is a name in letters that any system takes.
func plain(name string) string {
	name = strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(name))
	return name[:min(len(name), 40)]
}

// Files are the models of an archive: Read reads one after the other, so that no more
// than one is held at a time.
type Files struct {
	a      *reader
	models []model
	pieces []piece
}

// Open opens an archive: by its list of contents, or, where it has none, every file
// that ends like a document. Only what is no archive at all is an error.
func Open(text []byte) (*Files, error) {
	z, err := zip.NewReader(bytes.NewReader(text), int64(len(text)))
	if err != nil {
		return nil, fmt.Errorf("it is no ZIP file: %w", err)
	}
	if len(z.File) > maxFiles {
		return nil, fmt.Errorf("it has %d files; at most %d are read", len(z.File), maxFiles)
	}
	a := &reader{files: map[string]*zip.File{}, left: maxUnzipped, parsed: maxParsed}
	for _, f := range z.File {
		if a.files[f.Name] != nil {
			return nil, fmt.Errorf("it has two files of the name %q; pack it again", f.Name)
		}
		a.files[f.Name] = f
	}
	models, pieces, err := a.contents()
	if err != nil {
		return nil, err
	}
	if len(models)+len(pieces) == 0 {
		return nil, fmt.Errorf("there is no setup in it, neither .yaml nor .json")
	}
	if len(models) > maxModels || len(pieces) > maxModels {
		return nil, fmt.Errorf("it has %d models and %d pieces; at most %d of each are read at once: split it",
			len(models), len(pieces), maxModels)
	}
	seen := map[string]bool{}
	for _, m := range models {
		if seen[m.File] {
			return nil, fmt.Errorf("its list of contents names %q twice; pack it again", m.File)
		}
		seen[m.File] = true
	}
	for _, p := range pieces {
		if seen[p.File] || seen[p.Piece] {
			return nil, fmt.Errorf("its list of contents names %q twice; pack it again", p.File)
		}
		seen[p.File], seen[p.Piece] = true, true
	}
	return &Files{a, models, pieces}, nil
}

// Pieces is how many pieces of a shelf there are.
func (f *Files) Pieces() int { return len(f.pieces) }

// ReadPiece reads one of them.
func (f *Files) ReadPiece(i int) File {
	p := f.pieces[i]
	file := f.a.model(model{File: p.File})
	var err error
	if file.Key, err = uuid.Parse(p.Piece); err != nil || p.Revision < 1 || p.Revision > setup.MostRevision {
		file.Err = problem(p.File, "the list of contents says no key and revision of it", "pack it again")
	}
	file.Revision = p.Revision
	if file.Err == nil && file.Doc.Setup.Piece == nil {
		file.Err = problem(p.File, "is a model, not a piece", "bring it in by itself")
	}
	return file
}

// Len is how many models there are.
func (f *Files) Len() int { return len(f.models) }

// Read reads one of them.
func (f *Files) Read(i int) File { return f.a.model(f.models[i]) }

type reader struct {
	files  map[string]*zip.File
	left   int64 // bytes that may still be unpacked
	parsed int64 // bytes of documents that may still be read
}

func (a *reader) contents() (models []model, pieces []piece, err error) {
	if a.files[listName] == nil {
		for name := range a.files {
			if document(name) {
				models = append(models, model{File: name})
			}
		}
		slices.SortFunc(models, func(x, y model) int { return strings.Compare(x.File, y.File) })
		return models, nil, nil
	}
	text, err := a.read(listName, setup.MaxBytes)
	if err != nil {
		return nil, nil, err
	}
	var l list
	if err := json.Unmarshal(text, &l); err != nil {
		return nil, nil, fmt.Errorf("its list of contents, %s, cannot be read: %w", listName, err)
	}
	if l.Format != "axtren-yard" || l.Version != 1 {
		return nil, nil, fmt.Errorf("its list of contents is of another format (%q, version %d); this program "+
			"reads axtren-yard, version 1", l.Format, l.Version)
	}
	return l.Models, l.Pieces, nil
}

func document(name string) bool {
	ending := strings.ToLower(path.Ext(name))
	return (ending == ".yaml" || ending == ".yml" || ending == ".json") &&
		!strings.HasPrefix(path.Base(name), ".")
}

func (a *reader) model(m model) File {
	f := File{Name: m.File}
	text, err := a.read(m.File, setup.MaxBytes)
	if err != nil {
		f.Err = err
		return f
	}
	if a.parsed -= int64(len(text)); a.parsed < 0 {
		f.Err = problem(m.File, "is more than is read of one archive",
			fmt.Sprintf("bring it in by itself: at most %d bytes of setups are read at once", maxParsed))
		return f
	}
	read := setup.ReadYAML
	if strings.EqualFold(path.Ext(m.File), ".json") {
		read = setup.ReadJSON
	}
	if f.Doc, f.Err = read(text); f.Err != nil {
		return f
	}
	for _, r := range m.Recordings {
		script, err := a.read(r.File, maxScript)
		if err != nil {
			f.Err = err
			return f
		}
		f.Recordings = append(f.Recordings, store.Recording{Name: r.Name, Exact: r.Exact,
			Script: string(script)})
	}
	if m.Log != "" {
		f.Events, f.Err = a.events(m.Log)
	}
	return f
}

// events reads what happened to a model.
func (a *reader) events(name string) ([]store.Event, error) {
	text, err := a.read(name, maxLog)
	if err != nil {
		return nil, err
	}
	var list []event
	if err := json.Unmarshal(text, &list); err != nil {
		return nil, problem(name, "is no list of what happened: "+err.Error(), "pack it again")
	}
	if len(list) > store.MaxEvents {
		return nil, problem(name, fmt.Sprintf("has %d entries", len(list)),
			fmt.Sprintf("leave at most %d in it", store.MaxEvents))
	}
	events := make([]store.Event, len(list))
	for i, e := range list {
		events[i] = store.Event{MadeAt: e.At, Kind: e.Kind, Part: e.Part, Label: e.Label, What: e.What, Was: e.Was,
			Becomes: e.Becomes, Says: e.Says, Minutes: e.Minutes, Battery: e.Battery}
		if err := events[i].Fits(); err != nil {
			return nil, problem(fmt.Sprintf("%s, entry %d", name, i+1), err.Error(), "mend it, and pack it again")
		}
	}
	return events, nil
}

// read unpacks one file, never more than limit and what is left of the whole.
func (a *reader) read(name string, limit int64) ([]byte, error) {
	f := a.files[name]
	if f == nil {
		return nil, problem(name, "is not in the archive", "pack it again")
	}
	in, err := f.Open()
	if err != nil {
		return nil, problem(name, "cannot be unpacked: "+err.Error(), "pack it again")
	}
	defer in.Close()
	limit = min(limit, a.left)
	text, err := io.ReadAll(io.LimitReader(in, limit+1))
	if err != nil {
		return nil, problem(name, "cannot be unpacked: "+err.Error(), "pack it again")
	}
	if int64(len(text)) > limit {
		return nil, problem(name, "is too large", fmt.Sprintf("keep it below %d bytes", limit))
	}
	a.left -= int64(len(text))
	return text, nil
}

func problem(name, message, remedy string) error {
	return setup.Problems{{Path: name, Message: message, Remedy: remedy}}
}
