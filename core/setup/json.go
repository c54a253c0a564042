package setup

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/go-json-experiment/json/jsontext"
)

// ParseJSON reads JSON text (RFC 8259) into a Node. Duplicate keys, numbers
// beyond float64, more than MaxDepth levels and more than MaxBytes are problems.
func ParseJSON(text []byte) (*Node, Problems) {
	if ps := checkText(text); ps != nil {
		return nil, ps
	}
	r := jsonReader{dec: jsontext.NewDecoder(bytes.NewBuffer(text), jsontext.AllowDuplicateNames(true),
		jsontext.AllowInvalidUTF8(true)), lines: lineStarts(text),
		last: int64(len(bytes.TrimRight(text, " \t\r\n")))}
	n := r.value()
	if n != nil {
		if rest := bytes.TrimLeft(text[r.dec.InputOffset():], " \t\r\n"); len(rest) > 0 {
			r.problems = append(r.problems, Problem{Line: r.lineAt(int64(len(text) - len(rest))),
				Message: "text goes on after the end of the document", Remedy: "leave one document in the text"})
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
	dec      *jsontext.Decoder
	lines    []int
	last     int64      // where the text ends, spaces aside
	way      []jsonStep // from the top to the value that is read
	problems Problems
}

// jsonStep is a field of a group, or, where it has no key, a place in a list.
type jsonStep struct {
	key string
	at  int
}

// path says where the value that is read stands: it is put together only to say so.
func (r *jsonReader) path() string {
	path := ""
	for _, step := range r.way {
		if step.at >= 0 {
			path = fmt.Sprintf("%s[%d]", path, step.at)
		} else {
			path = join(path, step.key)
		}
	}
	return path
}

// line gives the line in which what was read last ends.
func (r *jsonReader) line() int { return r.lineAt(r.dec.InputOffset()) }

func (r *jsonReader) lineAt(offset int64) int { return sort.SearchInts(r.lines, int(offset)+1) }

func (r *jsonReader) problem(message, remedy string) {
	r.problems = append(r.problems, Problem{Path: r.path(), Line: r.line(), Message: message, Remedy: remedy})
}

// noJSON says where the text is no JSON, and why.
func (r *jsonReader) noJSON(err error, remedy string) {
	line, why := r.line(), err.Error()
	var syntax *jsontext.SyntacticError
	if errors.As(err, &syntax) && syntax.Err != nil {
		line, why = r.lineAt(syntax.ByteOffset), syntax.Err.Error()
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		line, why = r.lineAt(max(r.last-1, 0)), "the text ends too early"
	}
	r.problems = append(r.problems, Problem{Path: r.path(), Line: line, Message: "this is not JSON: " + why,
		Remedy: remedy})
}

// value reads one value; nil means that reading cannot go on.
func (r *jsonReader) value() *Node {
	token, err := r.dec.ReadToken()
	if err != nil {
		r.noJSON(err, "look at the text just before this place")
		return nil
	}
	n := &Node{Line: r.line()}
	switch kind := token.Kind(); kind {
	case 't', 'f':
		n.Kind, n.Text = Bool, strconv.FormatBool(kind == 't')
	case '"':
		n.Kind, n.Text = Text, token.String()
		if strings.Contains(n.Text, "\x00") {
			r.problem(nulFault, "leave it out")
		}
	case '0':
		n.Kind, n.Text = Number, token.String()
		if v, err := strconv.ParseFloat(n.Text, 64); err != nil || math.IsInf(v, 0) {
			r.problem("the number is too large", "use a number that a 64-bit float can hold")
		}
	case '[', '{':
		if len(r.way) >= MaxDepth {
			r.problem(fmt.Sprintf("nested deeper than %d levels", MaxDepth), "a setup needs fewer than ten")
			return nil
		}
		if kind == '[' {
			return r.list(n)
		}
		return r.group(n)
	}
	return n
}

// more tells whether a group or a list goes on.
func (r *jsonReader) more() bool {
	kind := r.dec.PeekKind()
	return kind != 0 && kind != ']' && kind != '}'
}

// inner reads a value in a group or a list.
func (r *jsonReader) inner(step jsonStep) *Node {
	r.way = append(r.way, step)
	n := r.value()
	if n != nil { // else the place is where reading ended
		r.way = r.way[:len(r.way)-1]
	}
	return n
}

func (r *jsonReader) list(n *Node) *Node {
	n.Kind = List
	for r.more() {
		item := r.inner(jsonStep{at: len(n.Items)})
		if item == nil {
			return nil
		}
		n.Items = append(n.Items, item)
	}
	return r.end(n)
}

// fewKeys is how many keys of a group are looked through one by one.
const fewKeys = 16

func (r *jsonReader) group(n *Node) *Node {
	n.Kind = Map
	var seen map[string]bool // once there are more than a few keys
	for r.more() {
		token, err := r.dec.ReadToken()
		if err != nil {
			r.noJSON(err, "look at the text just before this place")
			return nil
		}
		key := token.String()
		if strings.Contains(key, "\x00") {
			r.problem(nulFault, "leave it out")
			return nil
		}
		if seen == nil && len(n.Keys) == fewKeys {
			seen = map[string]bool{}
			for _, key := range n.Keys {
				seen[key] = true
			}
		}
		if seen[key] || seen == nil && slices.Contains(n.Keys, key) {
			r.way = append(r.way, jsonStep{key, -1})
			r.problem("the field stands here twice", "keep one of them")
			r.way = r.way[:len(r.way)-1]
		}
		if seen != nil {
			seen[key] = true
		}
		value := r.inner(jsonStep{key, -1})
		if value == nil {
			return nil
		}
		n.set(key, value)
	}
	return r.end(n)
}

func (r *jsonReader) end(n *Node) *Node {
	if _, err := r.dec.ReadToken(); err != nil {
		r.noJSON(err, "look for a bracket that is not closed")
		return nil
	}
	return n
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
