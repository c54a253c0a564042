// Package plan says which function goes on which control, channel and pin, and proves that there
// is no better way: docs/plan.md, where wishes, limits and cost are written down.
//
// A document is read as two kinds of function: one for every control that moves something (a hand
// function), and one for every output (a wire function), with its leads. What each asks for, and
// what may be given to it, become the tables of an allot.Problem; its answer is read back as a
// Plan, with the cost of every term. What a term costs is said once, in cost.go, for the tables and
// for the person alike.
package plan
