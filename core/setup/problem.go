package setup

import (
	"fmt"
	"strings"
)

// Problem is one thing that is wrong with a document: where, what, and what to do.
type Problem struct {
	Path    string `json:"path"`            // place in the document, outputs[2].low; empty for the whole
	Line    int    `json:"line,omitempty"`  // line of the text, from 1; 0 where there is no text
	Value   string `json:"value,omitempty"` // the value at fault, shortened to 60 characters
	Message string `json:"message"`
	Remedy  string `json:"remedy"`
}

// Error says the problem in one line.
func (p Problem) Error() string {
	var b strings.Builder
	if p.Line > 0 {
		fmt.Fprintf(&b, "line %d: ", p.Line)
	}
	if p.Path != "" {
		b.WriteString(p.Path + ": ")
	}
	b.WriteString(p.Message)
	if p.Value != "" {
		fmt.Fprintf(&b, " (it is %s)", p.Value)
	}
	if p.Remedy != "" {
		b.WriteString("; " + p.Remedy)
	}
	return b.String()
}

// Problems are all that is wrong with a document, in the order of the document.
// It is the one error type that this package returns.
type Problems []Problem

// maxProblems keeps the answer to 60 000 mistakes readable.
const maxProblems = 100

// Error says every problem, a line each.
func (ps Problems) Error() string {
	lines := make([]string, len(ps))
	for i, p := range ps {
		lines[i] = p.Error()
	}
	return strings.Join(lines, "\n")
}

// shorten cuts a value for a message.
func shorten(s string) string {
	r := []rune(strings.Map(func(c rune) rune {
		if c < ' ' {
			return ' '
		}
		return c
	}, s))
	if len(r) > 60 {
		return string(r[:57]) + "..."
	}
	return string(r)
}

// PointerPath turns a JSON Pointer (RFC 6901) into the path of a Problem:
// /outputs/2/low becomes outputs[2].low.
func PointerPath(pointer string) string {
	var b strings.Builder
	for _, part := range PointerParts(pointer) {
		if isIndex(part) {
			b.WriteString("[" + part + "]")
			continue
		}
		if b.Len() > 0 {
			b.WriteByte('.')
		}
		b.WriteString(part)
	}
	return b.String()
}

// Refused is the problem of one value that cannot be, by its place, as an error.
func Refused(path, value, message, remedy string) error {
	return Problems{{Path: path, Value: value, Message: message, Remedy: remedy}}
}

var unescape = strings.NewReplacer("~1", "/", "~0", "~")

// PointerParts splits a JSON Pointer (RFC 6901) into its unescaped steps.
func PointerParts(pointer string) []string {
	if pointer == "" {
		return nil
	}
	parts := strings.Split(strings.TrimPrefix(pointer, "/"), "/")
	for i, part := range parts {
		parts[i] = unescape.Replace(part)
	}
	return parts
}

func isIndex(s string) bool {
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return s != ""
}
