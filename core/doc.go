// Package core is the rules of the job: pure computing, without input, output,
// clock, database or network. Imports run one way, and a test here holds that:
// lines, sheet and travel build on signal, signal on setup.
package core
