package logic

import (
	"testing"

	"github.com/stretchr/testify/require"
	"gonum.org/v1/gonum/graph/simple"
	"gonum.org/v1/gonum/graph/topo"
	"pgregory.net/rapid"
)

func TestFeedbackGoesThroughWhatRemembers(t *testing.T) {
	// a latch that resets itself through a gate: gate 0 reads latch 1, latch 1 reads gate 0
	o, ring := Sort(Graph{Reads: [][]int{{1}, {0}}, Stateful: []bool{false, true}})
	require.Nil(t, ring)
	require.True(t, o.Late(0, 1))
	require.False(t, o.Late(1, 0))
	require.Equal(t, []bool{false, true}, o.LateNodes(2))
	require.Equal(t, []int{0, 1}, o.Sequence)

	o, ring = Sort(Graph{Reads: [][]int{{0}}, Stateful: []bool{true}})
	require.Nil(t, ring)
	require.True(t, o.Late(0, 0), "a self-reference counts")

	o, ring = Sort(Graph{Reads: [][]int{{1}, {}}, Stateful: []bool{false, true}})
	require.Nil(t, ring)
	require.False(t, o.Late(0, 1), "outside a cycle it reads this frame")
	require.Equal(t, []int{1, 0}, o.Sequence)
}

func TestARingIsNamedInOrder(t *testing.T) {
	_, ring := Sort(Graph{Reads: [][]int{{}, {2}, {0, 3}, {1}}, Stateful: make([]bool, 4)})
	require.Equal(t, []int{1, 2, 3}, ring)
}

// TestAgainstGonum compares the components with gonum's, and checks the order
// against its definition.
func TestAgainstGonum(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 12).Draw(t, "nodes")
		g := Graph{Reads: make([][]int, n), Stateful: rapid.SliceOfN(rapid.Bool(), n, n).Draw(t, "stateful")}
		reference := simple.NewDirectedGraph()
		for i := range n {
			reference.AddNode(simple.Node(i))
		}
		for i := range n {
			for _, to := range rapid.SliceOfN(rapid.IntRange(0, n-1), 0, 3).Draw(t, "reads") {
				g.Reads[i] = append(g.Reads[i], to)
				if to != i {
					reference.SetEdge(reference.NewEdge(simple.Node(i), simple.Node(to)))
				}
			}
		}
		together := map[[2]int]bool{}
		for _, group := range topo.TarjanSCC(reference) {
			for _, a := range group {
				for _, b := range group {
					together[[2]int{int(a.ID()), int(b.ID())}] = true
				}
			}
		}
		component := components(g.Reads)
		for a := range n {
			for b := range n {
				require.Equal(t, together[[2]int{a, b}], component[a] == component[b])
			}
		}
		o, ring := Sort(g)
		if ring != nil {
			for i, node := range ring {
				next := ring[(i+1)%len(ring)]
				require.Contains(t, g.Reads[node], next)
				require.False(t, together[[2]int{node, next}] && g.Stateful[next],
					"a stateful reference breaks a ring")
			}
			return
		}
		at := make([]int, n)
		for i, node := range o.Sequence {
			at[node] = i
		}
		require.Len(t, o.Sequence, n)
		for a, reads := range g.Reads {
			for _, b := range reads {
				require.Equal(t, together[[2]int{a, b}] && g.Stateful[b], o.Late(a, b))
				require.True(t, o.Late(a, b) || at[b] < at[a])
			}
		}
	})
}

// TestArrangeKeepsTheOrderThatIsAskedFor: what is listed runs in its order, everything
// once, what is not listed before the first that needs it, and exactly what has not run
// yet is read of the frame before.
func TestArrangeKeepsTheOrderThatIsAskedFor(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 10).Draw(t, "nodes")
		g := Graph{Reads: make([][]int, n), Stateful: rapid.SliceOfN(rapid.Bool(), n, n).Draw(t, "stateful")}
		for i := range n {
			g.Reads[i] = rapid.SliceOfN(rapid.IntRange(0, n-1), 0, 3).Draw(t, "reads")
		}
		base, ring := Sort(g)
		if ring != nil {
			t.Skip("it has a ring")
		}
		listed := rapid.Permutation(base.Sequence).Draw(t,
			"listed")[:rapid.IntRange(0, n).Draw(t, "how many")]
		o := base.Arrange(g, listed)
		place := make([]int, n)
		for i := range place {
			place[i] = -1
		}
		for i, node := range o.Sequence {
			require.Equal(t, -1, place[node], "once")
			place[node] = i
		}
		require.Len(t, o.Sequence, n)
		isListed := make([]bool, n)
		for i, node := range listed {
			isListed[node] = true
			require.True(t, i == 0 || place[listed[i-1]] < place[node], "as listed")
		}
		for node, reads := range g.Reads {
			for _, to := range reads {
				switch {
				case isListed[to]:
					require.Equal(t, place[to] >= place[node], o.Late(node, to))
				case base.Late(node, to):
					require.True(t, o.Late(node, to), "feedback stays")
				default:
					require.False(t, o.Late(node, to))
					require.Less(t, place[to], place[node], "what is needed has run")
				}
			}
		}
	})
}

// TestArrangeRunsTheRestWhenItIsNeeded: not sooner.
func TestArrangeRunsTheRestWhenItIsNeeded(t *testing.T) {
	// 0 and 1 are listed; 1 needs 2, which needs 0
	g := Graph{Reads: [][]int{{}, {2}, {0}, {}}, Stateful: make([]bool, 4)}
	base, _ := Sort(g)
	require.Equal(t, []int{0, 2, 1, 3}, base.Arrange(g, []int{0, 1}).Sequence)
	late := base.Arrange(g, []int{1, 0})
	require.Equal(t, []int{2, 1, 0, 3}, late.Sequence)
	require.True(t, late.Late(2, 0))
	require.False(t, late.Late(1, 2))
}
