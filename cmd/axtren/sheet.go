package main

import (
	"bytes"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	appsheet "axtren/app/sheet"
	"axtren/core/sheet"
)

func sheetCommand() *cobra.Command {
	var out, paper, since string
	var short bool
	cmd := &cobra.Command{
		Use:   "sheet SETUP",
		Short: "Write what to key in as CSV or PDF",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return runSheet(cmd.OutOrStdout(), args[0], out, paper, since, short)
		},
	}
	cmd.Flags().StringVar(&out, "out", "", "file that ends in .csv or .pdf; left out: CSV on standard output")
	cmd.Flags().StringVar(&paper, "paper", "A4", "of a PDF: A4 or A6")
	cmd.Flags().StringVar(&since, "since", "", "older setup: only what changed since it")
	cmd.Flags().BoolVar(&short, "short", false,
		"from a fresh memory: only what differs from what it has by itself")
	cmd.MarkFlagsMutuallyExclusive("since", "short")
	return cmd
}

func runSheet(stdout io.Writer, path, out, paper, since string, short bool) error {
	p, err := load(path)
	if err != nil {
		return err
	}
	sh := sheet.Build(p)
	if short {
		sh = sh.Fresh()
	}
	if since != "" {
		old, err := load(since)
		if err != nil {
			return err
		}
		sh = sh.Changes(sheet.Build(old), 0)
	}
	write := map[string]func(io.Writer) error{
		"":     func(w io.Writer) error { return appsheet.CSV(w, sh) },
		".csv": func(w io.Writer) error { return appsheet.CSV(w, sh) },
		".pdf": func(w io.Writer) error { return appsheet.PDF(w, sh, paper, 0) },
	}[strings.ToLower(filepath.Ext(out))]
	if write == nil || out != "" && filepath.Ext(out) == "" {
		return fmt.Errorf("--out %s: the name must end in .csv or .pdf", out)
	}
	if out == "" {
		return write(stdout)
	}
	var b bytes.Buffer // whole before the file is touched
	if err := write(&b); err != nil {
		return err
	}
	if err := os.WriteFile(out, b.Bytes(), 0o644); err != nil {
		return fmt.Errorf("the sheet cannot be written: %w", err)
	}
	return nil
}
