package signal

import (
	"hash/maphash"
	"math"
	"slices"
	"unsafe"
)

// Snapshot is one moment of a running program without all that can be worked out again:
// what is carried from frame to frame, then where the hands are. Two moments are the same
// where Equal says so: negative zero is not zero.
type Snapshot []float64

// Snapshot copies a moment into the room of an old snapshot, or into a new one.
func (p *Program) Snapshot(st *State, room Snapshot) Snapshot {
	return append(append(room[:0], st.V[:p.kept]...), st.V[p.hands:p.handsEnd]...)
}

// Restore makes st a moment of the same program again; st may be any state of it. What is
// worked out of the moment is there after the next Step, which goes on as it would have
// gone on then. st.Frame stays as it is.
func (p *Program) Restore(st *State, from Snapshot) {
	copy(st.V, p.initial)
	copy(st.V, from[:p.kept])
	copy(st.V[p.hands:p.handsEnd], from[p.kept:])
	for i := range p.Routes {
		st.V[p.Routes[i].Asked] = math.NaN() // nothing is asked as it was before
	}
}

// Hands gives where the hands were, for the program that the snapshot is of.
func (s Snapshot) Hands(p *Program) Hands { return Hands(s[p.kept:]) }

// Equal tells whether two snapshots of one program are the same moment, bit by bit.
func (s Snapshot) Equal(other Snapshot) bool {
	return slices.EqualFunc(s, other,
		func(a, b float64) bool { return math.Float64bits(a) == math.Float64bits(b) })
}

// Hash hashes a snapshot: those that are equal have equal hashes.
func (s Snapshot) Hash(seed maphash.Seed) uint64 {
	return maphash.Bytes(seed, unsafe.Slice((*byte)(unsafe.Pointer(unsafe.SliceData(s))), 8*len(s)))
}
