package signal

import (
	"crypto/sha256"
	"encoding/binary"
	"encoding/hex"
	"math"
	"testing"

	"github.com/stretchr/testify/require"
)

// sameEverywhere is the fingerprint of 3000 frames of the reference, every bit
// of every kept number. The test command runs this test on this machine and,
// under Node, as WebAssembly; a processor that fuses a multiplication and an
// addition would change it. A change of the reference or of the arithmetic
// changes it too: then it is renewed, and the change says why.
const sameEverywhere = "0c60e7d62723eb4014df658694f1af61ae107bf80ad142f978ddb0ecbe93ed4d"

func TestEqualOnEveryMachine(t *testing.T) {
	p := reference(t)
	st, sum := p.PowerOn(), sha256.New()
	for k, hands := range moves(p, 3000) {
		hands[len(p.controls)+1] = truth(k%300 < 250)
		p.Step(st, hands)
		for _, v := range st.V[:p.Kept()] {
			require.False(t, math.IsNaN(v) || math.IsInf(v, 0))
			sum.Write(binary.LittleEndian.AppendUint64(nil, math.Float64bits(v)))
		}
	}
	require.Equal(t, sameEverywhere, hex.EncodeToString(sum.Sum(nil)))
}
