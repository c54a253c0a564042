// Package core is the rules of the job: pure computing, without input, output,
// clock, database or network. Imports run one way, and a test here holds that:
// lines, sheet, travel and check build on signal, signal on logic and setup.
package core
