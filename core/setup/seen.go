package setup

import "slices"

// Seen gives a copy of a setup with a block for each of some conditions: in every frame it is as the
// condition is at the end of that frame, whatever else reads it earlier. gates are the blocks, in the
// order of the conditions.
func (s *Setup) Seen(truths ...Truth) (all *Setup, gates []ID) {
	one := *s
	one.Logic = slices.Clone(s.Logic)
	var taken []string
	for _, t := range truths {
		id := s.FreeID("seen", taken...)
		taken = append(taken, id)
		gate := &Gate{BlockHead: BlockHead{ID: ID(id), Block: "and"}, In: []Truth{t}}
		one.Logic = append(one.Logic, Block{BlockHead: &gate.BlockHead, Spec: gate})
		gates = append(gates, ID(id))
	}
	one.Relink()
	return &one, gates
}
