package live

import (
	"encoding/json"
	"strconv"

	"axtren/app/contract"
)

// encode writes a message as JSON. A frame, of which each bench sends up to 50 a
// second, is written by hand: ten times as fast, and the same text.
func encode(msg *contract.Told) ([]byte, error) {
	if msg.T != contract.FromFrame || msg.Play != nil {
		return json.Marshal(msg)
	}
	b := make([]byte, 0, 64+16*len(*msg.At))
	b = append(b, `{"at":[`...)
	for i, at := range *msg.At {
		if i > 0 {
			b = append(b, ',')
		}
		b = strconv.AppendInt(b, int64(at), 10)
	}
	b = append(b, `],"k":`...)
	b = strconv.AppendInt(b, *msg.K, 10)
	b = append(b, `,"n":`...)
	b = strconv.AppendInt(b, *msg.N, 10)
	b = append(b, `,"t":"frame","v":[`...)
	for i, v := range *msg.V {
		if i > 0 {
			b = append(b, ',')
		}
		b = strconv.AppendFloat(b, v, 'f', -1, 64)
	}
	b = append(b, `],"waits":[`...)
	for i, at := range *msg.Waits {
		if i > 0 {
			b = append(b, ',')
		}
		b = strconv.AppendInt(b, int64(at), 10)
	}
	return append(b, `]}`...), nil
}
