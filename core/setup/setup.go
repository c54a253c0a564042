package setup

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

// FromTree checks a tree. The error is Problems. The tree is not copied.
func FromTree(tree *Node) (*Document, error) {
	d := &decoder{}
	s := new(Setup)
	d.into(tree, s, "")
	if d.problems == nil {
		(&checker{decoder: d, s: s, tree: tree}).all()
	}
	if d.problems == nil {
		return &Document{tree, s}, nil
	}
	if d.more > 0 {
		d.problems = append(d.problems, Problem{Message: "and more of the like", Value: formatNumber(float64(d.more)), Remedy: "mend these first"})
	}
	return nil, d.problems
}
