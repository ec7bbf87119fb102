package schedule

import "slices"

// redo takes what stands of the job of a unit out and places it anew in the next windows of its isolations. It gives up
// when something of another job waits for it already.
func (d *decoder) redo(u int, g *genes) bool {
	j := d.acts[d.units[u].acts[0]].job
	all, ok := d.standing(j)
	if !ok {
		return false
	}
	all = append(all, u)
	for d.laterWindow(u) {
		for _, v := range all {
			for _, i := range d.units[v].acts {
				if d.lift[i] = g.delay[i]; d.is[i] {
					d.out(i)
				}
			}
		}
		fits := true
		for n := 0; n < len(all) && fits; n++ {
			fits = d.placeIn(d.units[all[n]].acts)
		}
		if fits {
			return true
		}
	}
	return false
}

// laterWindow goes on to the next window of an isolation of a unit.
func (d *decoder) laterWindow(u int) bool {
	for _, i := range d.units[u].acts {
		a := &d.acts[i]
		if k := a.job*len(d.windows) + a.iso; a.iso >= 0 && d.window[k]+1 < len(d.windows[a.iso]) {
			d.window[k]++
			return true
		}
	}
	return false
}

// standing gives the units of a job that stand, in the order of their links. ok is false when one of them has work of
// another job in it, or that waits for it.
func (d *decoder) standing(j int) (list []int, ok bool) {
	for _, i := range d.jobs[j].acts {
		v := d.unitOf[i]
		if v < 0 || !d.is[i] || slices.Contains(list, v) {
			continue
		}
		list = append(list, v)
		for _, o := range d.units[v].acts {
			if d.acts[o].job != j || !d.is[o] {
				return nil, false
			}
			for _, k := range d.acts[o].out {
				if t := d.links[k].to; d.is[t] && d.acts[t].job != j {
					return nil, false
				}
			}
		}
	}
	slices.SortFunc(list, func(v, w int) int { return d.rank[d.units[v].acts[0]] - d.rank[d.units[w].acts[0]] })
	return list, true
}

// nextWindow goes on to the next window of an isolation that nothing of the job stands in yet.
func (d *decoder) nextWindow(acts []int) bool {
	for _, i := range acts {
		a := &d.acts[i]
		if a.iso < 0 {
			continue
		}
		k := a.job*len(d.windows) + a.iso
		if d.window[k]+1 >= len(d.windows[a.iso]) {
			continue
		}
		stands := false
		for _, o := range d.jobs[a.job].acts {
			stands = stands || d.is[o] && d.acts[o].begun == nil && d.acts[o].iso == a.iso
		}
		if !stands {
			d.window[k]++
			return true
		}
	}
	return false
}
