// Package signal computes what every output of a setup does.
//
// A setup is compiled once to a flat program: a slice of small instructions
// over a slice of numbers. A frame is one walk through the instructions. The
// route of one number is the order of the files:
//
//	control -> demand -> mix -> share -> output -> pulse -> link -> pin
//
// Compile resolves every name to a slot; Step touches nothing but the State it
// is given, allocates nothing and follows no name. Every joint of the route has
// a slot of its own, so what Why explains and what a screen shows is read from
// the state and never computed again.
//
// The arithmetic is that of docs/format.md. Products are converted to float64
// before they are added, so that no processor fuses the two (Go specification,
// "Floating-point operators") and every machine gets the same result.
package signal
