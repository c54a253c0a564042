package edit

import (
	"encoding/json"
	"fmt"

	"axtren/core/setup"
)

// Replay applies a patch as a Result has it to the document that it was made for, and gives the
// tree that came of it. Nothing is checked, since that was done when the patch was made. The
// tree that is given stays as it is.
func Replay(tree *setup.Node, patch []byte) (*setup.Node, error) {
	var ops []Op
	if err := json.Unmarshal(patch, &ops); err != nil {
		return nil, fmt.Errorf("a patch that was kept cannot be read: %w", err)
	}
	w := newWork(&setup.Document{Tree: tree})
	for i, op := range ops {
		if err := w.apply(i, op); err != nil {
			return nil, fmt.Errorf("a patch that was kept does not fit: %w", err)
		}
	}
	return w.tree, nil
}
