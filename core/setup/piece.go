package setup

import (
	"fmt"
	"regexp"
	"slices"

	"github.com/invopop/jsonschema"
)

// From says of which piece of the person's shelf a part of a model is a copy, and as the piece
// was at which of its revisions.
type From struct {
	Piece    PieceKey `json:"piece" jsonschema:"required"`
	Revision int      `json:"revision" jsonschema:"required,minimum=1,maximum=1000000000"`
}

func (From) describe() docs {
	return docs{
		"piece":    "the key of the piece, in every model that has a copy of it the same",
		"revision": "the revision of the piece that was last looked at",
	}
}

// MostRevision is the highest number of a revision that a copy, or an archive, may name: there is room
// above it for as many edits as anybody makes.
const MostRevision = 1_000_000_000

// Piece says that a document is no model but one piece of a shelf: it has that part alone, and
// what the part cannot be without.
type Piece struct {
	Kind  string `json:"kind" jsonschema:"required,enum=transmitter,enum=receiver,enum=module,enum=device"`
	Count int    `json:"count" jsonschema:"minimum=1,maximum=1000,default=1"`
}

func (Piece) describe() docs {
	return docs{"kind": "which part the piece is", "count": "how many of it there are, all alike"}
}

// A PieceKey names a piece wherever it is copied to: a UUID (RFC 9562) in small letters.
type PieceKey string

var pieceKeyPattern = regexp.MustCompile(`^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$`)

func (k *PieceKey) decode(d *decoder, n *Node, path string) {
	if !d.is(n, path, Text, "write the key of the piece, a UUID") {
		return
	}
	if !pieceKeyPattern.MatchString(n.Text) {
		d.fail(n, path, "this is no key of a piece", "write a UUID in small letters, or leave “from” out")
	}
	*k = PieceKey(n.Text)
}

// JSONSchema gives the schema of the key of a piece.
func (PieceKey) JSONSchema() *jsonschema.Schema { return text(pieceKeyPattern.String()) }

// PieceKind is what is the same for all pieces of one kind.
type PieceKind struct {
	Key  string // as the document writes it
	Name string // one of them, in words
	Many string // more than one
	List string // the list in which its part stands; empty where a document has one at most
	// whether one of it serves many models at once: a transmitter does, a servo is in one
	Shared bool
	// the fields of its part that belong to the model that it is in, not to the piece
	Own []string
}

// PieceKinds are the kinds of piece, in the order in which a shelf shows them.
var PieceKinds = []PieceKind{
	{Key: "transmitter", Name: "transmitter", Many: "transmitters", Shared: true,
		Own: []string{"name", "power", "low_v", "own", "notes"}},
	{Key: "module", Name: "add-on module", Many: "add-on modules", Shared: true,
		Own: []string{"label", "position"}},
	{Key: "receiver", Name: "receiver", Many: "receivers", List: "receivers",
		Own: []string{"id", "label", "supply_v", "bound", "codes", "learned", "notes"}},
	{Key: "device", Name: "device", Many: "devices", List: "devices",
		Own: []string{"id", "label", "on", "notes", "fitted", "own_switch", "left_at", "swap_on", "travel"}},
}

// PieceKindOf gives a kind of piece by its key; nil where there is none.
func PieceKindOf(key string) *PieceKind {
	at := slices.IndexFunc(PieceKinds, func(k PieceKind) bool { return k.Key == key })
	if at < 0 {
		return nil
	}
	return &PieceKinds[at]
}

// Copy is a part of a document that is, or could be, a copy of a piece.
type Copy struct {
	Kind *PieceKind
	Part string // as forms and acts name it: transmitter, module, receivers/rx, devices/horn
	Item Item   // of a receiver or a device; else nothing
	From *From  // nil: of no piece
}

// Copies lists the parts of a document that are, or could be, copies of pieces: the transmitter,
// its add-on module where there is one, receivers and devices.
func (s *Setup) Copies() []Copy {
	list := []Copy{{PieceKindOf("transmitter"), "transmitter", Item{}, s.Transmitter.From}}
	if m := s.Link.Module; m != nil {
		list = append(list, Copy{PieceKindOf("module"), "module", Item{}, m.From})
	}
	for i := range s.Receivers {
		list = append(list, Copy{PieceKindOf("receiver"), "receivers/" + string(s.Receivers[i].ID),
			Item{Kind: IsReceiver, Index: i}, s.Receivers[i].From})
	}
	for i := range s.Devices {
		list = append(list, Copy{PieceKindOf("device"), "devices/" + string(s.Devices[i].ID),
			Item{Kind: IsDevice, Index: i}, s.Devices[i].From})
	}
	return list
}

// Pointer gives the JSON Pointer of a copy.
func (c *Copy) Pointer() string {
	switch c.Part {
	case "transmitter":
		return "/transmitter"
	case "module":
		return "/link/module"
	}
	return fmt.Sprintf("/%s/%d", c.Kind.List, c.Item.Index)
}

// CopyLabel says what a copy is called.
func (s *Setup) CopyLabel(c Copy) string {
	switch c.Part {
	case "transmitter":
		if s.Transmitter.Name == "" {
			return "The transmitter"
		}
		return s.Transmitter.Name
	case "module":
		if s.Link.Module.Label == "" {
			return "The add-on module"
		}
		return s.Link.Module.Label
	}
	return s.Label(c.Item)
}

// PieceCopy gives the part that the document of a piece is about; nothing where it is no piece.
func (s *Setup) PieceCopy() (Copy, bool) {
	if s.Piece == nil {
		return Copy{}, false
	}
	for _, one := range s.Copies() {
		if one.Kind.Key == s.Piece.Kind {
			return one, true
		}
	}
	return Copy{}, false
}

// piece checks that the document of a piece has its part, and one of it.
func (c *checker) piece() {
	if c.s.Piece == nil {
		return
	}
	kind := PieceKindOf(c.s.Piece.Kind)
	if kind == nil {
		return // told already
	}
	count := 0
	for _, one := range c.s.Copies() {
		if one.Kind == kind {
			count++
		}
	}
	if count != 1 {
		c.wrong("piece.kind", "the document of a piece has its part once", "leave one "+kind.Name+" in it")
	}
	if len(c.s.Outputs) > 0 {
		c.wrong("outputs", "a piece has no functions",
			"leave them out, or leave “piece” out, so that it is a model")
	}
}
