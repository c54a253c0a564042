package stage

import "math"

// corner is a point of the picture, mm.
type corner struct{ x, y float64 }

// solid is a ramp, a door or a leg as it stands in a picture from the side: a
// rectangle that begins at its hinge.
type solid struct {
	part    int
	corners [4]corner
}

// clash marks the ramps, doors and legs that are where another one is.
func (g *Stage) clash(st *State) {
	if g.view != "side" {
		return
	}
	var solids [16]solid
	n := 0
	for i := range g.parts {
		p := &g.parts[i]
		kind := p.spec.Part
		if n == len(solids) || p.on >= 0 || p.spec.AtMM == nil || kind != "ramp" && kind != "door" &&
			kind != "leg" {
			continue
		}
		st.now[i].flags &^= Clashes
		solids[n] = solid{i, p.corners(st.now[i].at)}
		n++
	}
	for i := range n {
		for j := range i {
			if overlap(&solids[i].corners, &solids[j].corners) {
				st.now[solids[i].part].flags |= Clashes
				st.now[solids[j].part].flags |= Clashes
			}
		}
	}
}

// corners gives the rectangle of a part at a pose: a leg slides down by it, a
// ramp or a door swings up by it.
func (p *part) corners(at float64) [4]corner {
	length, half := p.spec.SizeMM[0], p.spec.SizeMM[1]/2
	x, y, angle := p.spec.AtMM[0], p.spec.AtMM[1], at
	if p.moves == slides {
		y, angle = y-at, -90
	}
	sin, cos := math.Sincos(angle * math.Pi / 180)
	return [4]corner{
		{x - half*-sin, y - half*cos}, {x + length*cos - half*-sin, y + length*sin - half*cos},
		{x + length*cos + half*-sin, y + length*sin + half*cos}, {x + half*-sin, y + half*cos},
	}
}

// overlap tells whether two rectangles overlap: no side of either separates them.
func overlap(a, b *[4]corner) bool {
	for _, of := range [2]*[4]corner{a, b} {
		for i := range 2 {
			nx, ny := of[i+1].y-of[i].y, of[i].x-of[i+1].x
			lowA, highA := along(a, nx, ny)
			lowB, highB := along(b, nx, ny)
			if highA <= lowB || highB <= lowA {
				return false
			}
		}
	}
	return true
}

// along gives the shadow of a rectangle on a direction.
func along(of *[4]corner, nx, ny float64) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, c := range of {
		v := c.x*nx + c.y*ny
		low, high = min(low, v), max(high, v)
	}
	return low, high
}
