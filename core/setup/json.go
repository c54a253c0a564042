package setup

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"sort"
	"strconv"
	"strings"
	"unicode/utf8"
)

// ParseJSON reads JSON text (RFC 8259) into a Node. Duplicate keys, numbers
// beyond float64, more than MaxDepth levels and more than MaxBytes are problems.
func ParseJSON(text []byte) (*Node, Problems) {
	if ps := checkText(text); ps != nil {
		return nil, ps
	}
	r := jsonReader{dec: json.NewDecoder(bytes.NewReader(text)), lines: lineStarts(text)}
	r.dec.UseNumber()
	n := r.value("", 0)
	if n != nil {
		if _, err := r.dec.Token(); !errors.Is(err, io.EOF) {
			r.problem("", "text goes on after the end of the document", "leave one document in the text")
		}
	}
	if r.problems != nil {
		return nil, r.problems
	}
	return n, nil
}

// nulFault says that a text holds what no database keeps.
const nulFault = "there is a zero letter (U+0000) in the text"

// checkText holds what both formats ask of a text before it is read.
func checkText(text []byte) Problems {
	if len(text) > MaxBytes {
		return Problems{{Message: fmt.Sprintf("the document is larger than %d bytes", MaxBytes),
			Value:  fmt.Sprintf("%d bytes", len(text)),
			Remedy: "shorten its notes, or split it into two models"}}
	}
	if !utf8.Valid(text) {
		return Problems{{Message: "the text is not UTF-8", Remedy: "save it as UTF-8"}}
	}
	return nil
}

// lineStarts gives the offset at which each line starts.
func lineStarts(text []byte) []int {
	starts := []int{0}
	for i, c := range text {
		if c == '\n' {
			starts = append(starts, i+1)
		}
	}
	return starts
}

type jsonReader struct {
	dec      *json.Decoder
	lines    []int
	problems Problems
}

func (r *jsonReader) line() int {
	at := int(r.dec.InputOffset())
	return sort.SearchInts(r.lines, at+1)
}

func (r *jsonReader) problem(path, message, remedy string) {
	r.problems = append(r.problems, Problem{Path: path, Line: r.line(), Message: message, Remedy: remedy})
}

// value reads one value; nil means that reading cannot go on.
func (r *jsonReader) value(path string, depth int) *Node {
	token, err := r.dec.Token()
	if err != nil {
		r.problem(path, "this is not JSON: "+jsonFault(err), "look at the text just before this place")
		return nil
	}
	n := &Node{Line: r.line()}
	switch t := token.(type) {
	case nil:
	case bool:
		n.Kind, n.Text = Bool, strconv.FormatBool(t)
	case string:
		n.Kind, n.Text = Text, t
		if strings.Contains(t, "\x00") {
			r.problem(path, nulFault, "leave it out")
		}
	case json.Number:
		n.Kind, n.Text = Number, string(t)
		if v, err := t.Float64(); err != nil || math.IsInf(v, 0) {
			r.problem(path, "the number is too large", "use a number that a 64-bit float can hold")
		}
	case json.Delim:
		if depth >= MaxDepth {
			r.problem(path, fmt.Sprintf("nested deeper than %d levels", MaxDepth),
				"a setup needs fewer than ten")
			return nil
		}
		if t == '[' {
			return r.list(n, path, depth)
		}
		return r.group(n, path, depth)
	}
	return n
}

func (r *jsonReader) list(n *Node, path string, depth int) *Node {
	n.Kind = List
	for r.dec.More() {
		item := r.value(fmt.Sprintf("%s[%d]", path, len(n.Items)), depth+1)
		if item == nil {
			return nil
		}
		n.Items = append(n.Items, item)
	}
	return r.end(n, path)
}

func (r *jsonReader) group(n *Node, path string, depth int) *Node {
	n.Kind = Map
	seen := map[string]bool{}
	for r.dec.More() {
		token, err := r.dec.Token()
		if err != nil {
			r.problem(path, "this is not JSON: "+jsonFault(err), "look at the text just before this place")
			return nil
		}
		key, _ := token.(string)
		at := join(path, key)
		if strings.Contains(key, "\x00") {
			r.problem(path, nulFault, "leave it out")
			return nil
		}
		if seen[key] {
			r.problem(at, "the field stands here twice", "keep one of them")
		}
		seen[key] = true
		value := r.value(at, depth+1)
		if value == nil {
			return nil
		}
		n.set(key, value)
	}
	return r.end(n, path)
}

func (r *jsonReader) end(n *Node, path string) *Node {
	if _, err := r.dec.Token(); err != nil {
		r.problem(path, "this is not JSON: "+jsonFault(err), "look for a bracket that is not closed")
		return nil
	}
	return n
}

func jsonFault(err error) string {
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		return "the text ends too early"
	}
	return err.Error()
}

// JSON prints the value as JSON, one field a line, lists of numbers in one
// line; it ends in a line break.
func (n *Node) JSON() []byte {
	var b bytes.Buffer
	n.writeJSON(&b, "")
	b.WriteByte('\n')
	return b.Bytes()
}

func (n *Node) writeJSON(b *bytes.Buffer, indent string) {
	switch n.Kind {
	case Null:
		b.WriteString("null")
	case Bool, Number:
		b.WriteString(n.Text)
	case Text:
		b.Write(quoteJSON(n.Text))
	case List, Map:
		n.writeGroup(b, indent)
	}
}

func (n *Node) writeGroup(b *bytes.Buffer, indent string) {
	open, shut := "[", "]"
	if n.Kind == Map {
		open, shut = "{", "}"
	}
	b.WriteString(open)
	inner, between, last := indent+"  ", ",\n"+indent+"  ", "\n"+indent
	if n.flat() {
		between, last = ", ", ""
	} else {
		b.WriteString("\n" + inner)
	}
	for i, item := range n.Items {
		if i > 0 {
			b.WriteString(between)
		}
		if n.Kind == Map {
			b.Write(quoteJSON(n.Keys[i]))
			b.WriteString(": ")
		}
		item.writeJSON(b, inner)
	}
	b.WriteString(last + shut)
}

// flat tells whether a group is printed in one line: a list of plain values.
func (n *Node) flat() bool {
	for _, item := range n.Items {
		if n.Kind == Map || item.Kind >= List {
			return false
		}
	}
	return true
}

// quoteJSON prints text as a JSON string, leaving < and > readable.
func quoteJSON(s string) []byte {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	_ = enc.Encode(s) // text that is UTF-8 always encodes
	return bytes.TrimRight(b.Bytes(), "\n")
}
