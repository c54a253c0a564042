// Package demo is the made-up yard that a new database starts with. Every club,
// person and model in it is invented.
package demo

import (
	"embed"
	"fmt"

	"axtren/core/setup"
)

//go:embed *.yaml
var files embed.FS

// Documents reads the models of the yard, in the order of their file names.
func Documents() ([]*setup.Document, error) {
	entries, err := files.ReadDir(".")
	if err != nil {
		return nil, err
	}
	var docs []*setup.Document
	for _, e := range entries {
		text, err := files.ReadFile(e.Name())
		if err != nil {
			return nil, err
		}
		doc, err := setup.ReadYAML(text)
		if err != nil {
			return nil, fmt.Errorf("demo/%s: %w", e.Name(), err)
		}
		docs = append(docs, doc)
	}
	return docs, nil
}
