package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"axtren/core/setup"
	"axtren/core/signal"
)

// readSetup reads a setup file; JSON where its name ends in .json, else YAML.
func readSetup(path string) (*setup.Document, error) {
	text, err := readLimited(path)
	if err != nil {
		return nil, err
	}
	read := setup.ReadYAML
	if strings.HasSuffix(path, ".json") {
		read = setup.ReadJSON
	}
	doc, err := read(text)
	if err != nil {
		return nil, fmt.Errorf("%s cannot be used:\n%w", path, err)
	}
	return doc, nil
}

// readLimited reads one byte more than a document may have, so that a larger
// file is told by the parser and never held whole.
func readLimited(path string) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, fmt.Errorf("the setup cannot be opened: %w", err)
	}
	defer f.Close()
	text, err := io.ReadAll(io.LimitReader(f, setup.MaxBytes+1))
	if err != nil {
		return nil, fmt.Errorf("the setup cannot be read: %w", err)
	}
	return text, nil
}

// load reads and compiles a setup.
func load(path string) (*signal.Program, error) {
	doc, err := readSetup(path)
	if err != nil {
		return nil, err
	}
	p, err := signal.Compile(doc.Setup)
	if err != nil {
		return nil, fmt.Errorf("%s cannot be played: %w", path, err)
	}
	return p, nil
}

// openScript opens a script file; no name is no script.
func openScript(path string, p *signal.Program) (*signal.Script, func(), error) {
	if path == "" {
		return signal.NewScript(nil, nil), func() {}, nil
	}
	f, err := os.Open(path)
	if err != nil {
		return nil, nil, fmt.Errorf("the script cannot be opened: %w", err)
	}
	return signal.NewScript(f, p), func() { f.Close() }, nil
}

// writeJSON prints what another program can read.
func writeJSON(out io.Writer, v any) error {
	text, err := json.MarshalIndent(v, "", "  ")
	if err != nil {
		return err
	}
	_, err = fmt.Fprintf(out, "%s\n", text)
	return err
}
