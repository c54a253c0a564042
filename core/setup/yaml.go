package setup

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"strconv"
	"strings"

	"go.yaml.in/yaml/v3"
)

// ParseYAML reads YAML 1.2 text, core schema, into a Node: on, off, yes and no
// are text. Aliases, anchors, merge keys, tags, a second document and duplicate
// keys are problems; so are MaxBytes and MaxDepth passed.
func ParseYAML(text []byte) (*Node, Problems) {
	if ps := checkText(text); ps != nil {
		return nil, ps
	}
	dec := yaml.NewDecoder(bytes.NewReader(withoutVersion(text)))
	var doc, more yaml.Node
	if err := dec.Decode(&doc); err != nil {
		return nil, Problems{yamlFault(err)}
	}
	r := yamlReader{}
	n := r.value(doc.Content[0], "", 0)
	switch err := dec.Decode(&more); {
	case err == nil:
		r.problem(&more, "", "a second document follows", "leave one document in the text")
	case !errors.Is(err, io.EOF):
		r.problems = append(r.problems, yamlFault(err))
	}
	if r.problems != nil {
		return nil, r.problems
	}
	return n, nil
}

// withoutVersion makes a comment of a directive %YAML 1.2 before the document: the
// library reads 1.2 and knows the name of 1.1 alone. Lines stay where they are.
func withoutVersion(text []byte) []byte {
	at := 0
	for at < len(text) {
		line := text[at:]
		if end := bytes.IndexByte(line, '\n'); end >= 0 {
			line = line[:end+1]
		}
		words := bytes.TrimSpace(bytes.TrimPrefix(line, []byte("\ufeff")))
		switch {
		case versionTwo.Match(words) && bytes.Contains(text[at:], []byte("\n---")):
			own := bytes.Clone(text)
			own[at+bytes.IndexByte(line, '%')] = '#'
			return own
		case len(words) > 0 && words[0] != '#' && words[0] != '%':
			return text
		}
		at += len(line)
	}
	return text
}

var versionTwo = regexp.MustCompile(`^%YAML[ \t]+1\.2([ \t]+#.*)?$`)

var yamlLine = regexp.MustCompile(`line (\d+): `)

func yamlFault(err error) Problem {
	message := strings.TrimPrefix(err.Error(), "yaml: ")
	p := Problem{Remedy: "look at the indents and quotes just before this place"}
	if m := yamlLine.FindStringSubmatch(message); m != nil {
		p.Line, _ = strconv.Atoi(m[1])
		message = strings.Replace(message, m[0], "", 1)
	}
	if message == "EOF" {
		message, p.Remedy = "the text is empty", "start with format: axtren-setup"
	}
	p.Message = "this is not YAML: " + shorten(message)
	return p
}

type yamlReader struct{ problems Problems }

func (r *yamlReader) problem(n *yaml.Node, path, message, remedy string) {
	if len(r.problems) < maxProblems {
		r.problems = append(r.problems, Problem{Path: path, Line: n.Line, Message: message, Remedy: remedy})
	}
}

// value turns one YAML node into ours; where something is wrong it notes it
// and goes on with null.
func (r *yamlReader) value(y *yaml.Node, path string, depth int) *Node {
	n := &Node{Line: y.Line}
	switch {
	case y.Kind == yaml.AliasNode:
		r.problem(y, path, "aliases (*name) are not read", "write the value out")
	case y.Anchor != "":
		r.problem(y, path, "anchors (&name) are not read", "leave the anchor out")
	case y.Style&yaml.TaggedStyle != 0:
		r.problem(y, path, "tags (!name) are not read", "leave the tag out")
	case depth >= MaxDepth && y.Kind != yaml.ScalarNode:
		r.problem(y, path, fmt.Sprintf("nested deeper than %d levels", MaxDepth),
			"a setup needs fewer than ten")
	case y.Kind == yaml.SequenceNode:
		n.Kind = List
		for i, item := range y.Content {
			n.Items = append(n.Items, r.value(item, fmt.Sprintf("%s[%d]", path, i), depth+1))
		}
	case y.Kind == yaml.MappingNode:
		n.Kind = Map
		r.group(n, y, path, depth)
	case y.Style&(yaml.DoubleQuotedStyle|yaml.SingleQuotedStyle|yaml.LiteralStyle|yaml.FoldedStyle) != 0:
		n.Kind, n.Text = Text, y.Value
		if strings.Contains(y.Value, "\x00") {
			r.problem(y, path, nulFault, "leave it out")
		}
	default:
		r.plain(n, y, path)
	}
	return n
}

func (r *yamlReader) group(n *Node, y *yaml.Node, path string, depth int) {
	seen := make(map[string]bool, len(y.Content)/2)
	for i := 0; i+1 < len(y.Content); i += 2 {
		key := y.Content[i]
		if key.Kind != yaml.ScalarNode || key.Anchor != "" || key.Style&yaml.TaggedStyle != 0 {
			r.problem(key, path, "a field's name must be plain text", "write it as one word")
			continue
		}
		at := join(path, key.Value)
		if strings.Contains(key.Value, "\x00") {
			r.problem(key, path, nulFault, "leave it out")
			continue
		}
		if key.Value == "<<" && key.Style == 0 {
			r.problem(key, at, "merge keys (<<) are not read", "write the fields out")
			continue
		}
		if seen[key.Value] {
			r.problem(key, at, "the field stands here twice", "keep one of them")
			continue
		}
		seen[key.Value] = true
		n.set(key.Value, r.value(y.Content[i+1], at, depth+1))
	}
}

// The core schema of YAML 1.2.2, chapter 10.3.2.
var (
	yamlInt   = regexp.MustCompile(`^[-+]?[0-9]+$`)
	yamlOctal = regexp.MustCompile(`^0o[0-7]+$`)
	yamlHex   = regexp.MustCompile(`^0x[0-9a-fA-F]+$`)
	yamlFloat = regexp.MustCompile(`^[-+]?(\.[0-9]+|[0-9]+(\.[0-9]*)?)([eE][-+]?[0-9]+)?$`)
	yamlInf   = regexp.MustCompile(`^([-+]?\.(inf|Inf|INF)|\.(nan|NaN|NAN))$`)
)

// plain reads an unquoted scalar by the core schema.
func (r *yamlReader) plain(n *Node, y *yaml.Node, path string) {
	s := y.Value
	switch s {
	case "", "~", "null", "Null", "NULL":
		return
	case "true", "True", "TRUE", "false", "False", "FALSE":
		n.Kind, n.Text = Bool, strings.ToLower(s)
		return
	}
	var v float64
	var err error
	switch {
	case yamlInt.MatchString(s), yamlFloat.MatchString(s):
		v, err = strconv.ParseFloat(strings.TrimSuffix(s, "."), 64)
	case yamlOctal.MatchString(s), yamlHex.MatchString(s):
		var u uint64
		u, err = strconv.ParseUint(s, 0, 53)
		v = float64(u)
	case yamlInf.MatchString(s):
		v = math.Inf(1)
	default:
		n.Kind, n.Text = Text, s
		return
	}
	if err != nil || math.IsInf(v, 0) {
		r.problem(y, path, "the number is not finite", "use a number that a 64-bit float can hold")
		return
	}
	n.Kind, n.Text = Number, formatNumber(v)
}

// YAML prints the value as YAML; reading it back gives an equal value.
func (n *Node) YAML() []byte {
	var b bytes.Buffer
	enc := yaml.NewEncoder(&b)
	enc.SetIndent(2)
	_ = enc.Encode(n.toYAML()) // a tree of plain nodes always encodes
	_ = enc.Close()
	return b.Bytes()
}

func (n *Node) toYAML() *yaml.Node {
	switch n.Kind {
	case List, Map:
		y := &yaml.Node{Kind: yaml.SequenceNode}
		if n.Kind == Map {
			y.Kind = yaml.MappingNode
		}
		if n.shallow() {
			y.Style = yaml.FlowStyle
		}
		for i, item := range n.Items {
			if n.Kind == Map {
				y.Content = append(y.Content, textYAML(n.Keys[i]))
			}
			y.Content = append(y.Content, item.toYAML())
		}
		return y
	case Text:
		return textYAML(n.Text)
	case Null:
		return &yaml.Node{Kind: yaml.ScalarNode, Tag: "!!null", Value: "null"}
	}
	return &yaml.Node{Kind: yaml.ScalarNode, Value: n.Text}
}

// shallow tells whether a value is short enough for YAML's one-line style.
func (n *Node) shallow() bool {
	size := 0
	for i, item := range n.Items {
		if item.Kind == Map || item.Kind == List && !item.flat() {
			return false
		}
		size += len(item.Text) + 4*len(item.Items)
		if n.Kind == Map {
			size += len(n.Keys[i]) + 2
		}
	}
	return n.Kind == List && n.flat() || size < 90 && n.Get("format") == nil
}

var yamlPlainText = regexp.MustCompile(`^[A-Za-z_][A-Za-z0-9_.+/ -]*$`)

// textYAML quotes every text that any reader could take for something else,
// the words of YAML 1.1 included.
func textYAML(s string) *yaml.Node {
	y := &yaml.Node{Kind: yaml.ScalarNode, Value: s}
	switch strings.ToLower(s) {
	case "true", "false", "null", "yes", "no", "on", "off", "y", "n":
		y.Style = yaml.DoubleQuotedStyle
	default:
		if !yamlPlainText.MatchString(s) || strings.HasSuffix(s, " ") {
			y.Style = yaml.DoubleQuotedStyle
		}
	}
	return y
}
