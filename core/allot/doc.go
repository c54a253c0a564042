// Package allot deals out columns to variables at the least cost, and proves that there is none
// less: functions to controls, channels and pins, though nothing here knows that.
//
// A Problem has sides. Each variable takes one column of its side, no two the same. A column
// costs a variable what its own table says, and a term adds what two variables cost together.
//
// The search is a branch and bound. Each side by itself, without the terms, is a linear
// assignment, solved exactly (assign.go: R. Jonker and A. Volgenant, Computing 38 (1987) 325, the
// shortest augmenting paths of it); the sum over the sides is a bound from below. A term lends
// itself the reduced costs of one of its variables and hands on to the other what every column of
// it costs at least; each such step keeps the cost of every answer, and never lowers the bound
// (bound.go). What is left is divided by groups of columns that a term treats alike (search.go).
//
// Costs are whole numbers, so nothing is rounded: an answer that costs as much as the bound is
// best. A caller that wants levels, one before the other, weighs them so that the sum of a lower
// one never reaches the unit of a higher.
package allot
