package setup

import (
	"fmt"
	"strings"
)

// Document is a document that was read without a problem: what was written, and
// what it means.
type Document struct {
	Tree  *Node
	Setup *Setup
}

// ReadJSON reads and checks a JSON document. The error is Problems.
func ReadJSON(text []byte) (*Document, error) { return read(ParseJSON(text)) }

// ReadYAML reads and checks a YAML document. The error is Problems.
func ReadYAML(text []byte) (*Document, error) { return read(ParseYAML(text)) }

func read(tree *Node, problems Problems) (*Document, error) {
	if problems != nil {
		return nil, problems
	}
	return FromTree(tree)
}

// CheckSize refuses a document that is larger than MaxBytes as it is printed, in either
// format: what is kept can always be read again. The error is Problems.
func CheckSize(tree *Node) error {
	if tree.atMost() <= MaxBytes {
		return nil
	}
	for _, printed := range []struct {
		as   string
		text []byte
	}{{"JSON", tree.JSON()}, {"YAML", tree.YAML()}} {
		if len(printed.text) > MaxBytes {
			return Problems{{Message: fmt.Sprintf("the document is larger than %d bytes when it is printed "+
				"as %s", MaxBytes, printed.as),
				Value:  fmt.Sprintf("%d bytes", len(printed.text)),
				Remedy: "shorten its notes, or split it into two models"}}
		}
	}
	return nil
}

// atMost is a size that the value is never larger than when it is printed: each letter
// may be escaped, each value stand on a line of its own, indented.
func (n *Node) atMost() int {
	size := 2*MaxDepth + 16 + 6*len(n.Text)
	for _, key := range n.Keys {
		size += 6 * len(key)
	}
	for _, item := range n.Items {
		size += item.atMost()
	}
	return size
}

// FromTree checks a tree. The error is Problems. The tree is not copied.
func FromTree(tree *Node) (*Document, error) {
	d := &decoder{}
	s := new(Setup)
	d.into(tree, s, "")
	c := &checker{decoder: &decoder{}, s: s, tree: tree}
	c.all()
	problems, more := d.problems, d.more+c.more
	for _, p := range c.problems {
		if !d.blames(p.Path) {
			problems = append(problems, p)
		}
	}
	if problems == nil {
		return &Document{tree, s}, nil
	}
	if len(problems) > maxProblems {
		problems, more = problems[:maxProblems], more+len(problems)-maxProblems
	}
	if more > 0 {
		problems = append(problems, Problem{Message: moreProblems(more), Remedy: "fix these first"})
	}
	return nil, problems
}

// moreProblems says how many problems are not told one by one.
func moreProblems(n int) string {
	if n == 1 {
		return "1 more problem"
	}
	return formatNumber(float64(n)) + " more problems"
}

// blames tells whether a problem of a field lies in the same element as path:
// what the checker finds there may only follow from it.
func (d *decoder) blames(path string) bool {
	element, _, _ := strings.Cut(path, "]")
	for _, p := range d.problems {
		own, _, _ := strings.Cut(p.Path, "]")
		if own == element || p.Path == "" {
			return true
		}
	}
	return false
}
