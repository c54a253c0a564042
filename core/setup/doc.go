// Package setup is the setup document: everything Axtren knows about one model
// and the transmitter and receivers that drive it.
//
// A document travels the same way whichever format it comes in:
//
//	text --(ParseJSON, ParseYAML)--> Node --(decode)--> Setup --(check)--> problems
//
// The Node tree keeps what was written, in the order in which it was written,
// so that a document leaves as it came. The Setup is what it means: every
// default filled in, every reference checked. The meaning is in docs/format.md.
//
// Nothing here does input or output, and nothing here panics on bad input:
// whatever is wrong with a document comes back as Problems, all at once.
package setup
