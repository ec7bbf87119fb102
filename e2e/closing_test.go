package e2e

func (p *page) handOver(act func(what, text string)) {
	p.t.Helper()
	p.find("heading", "Gap after tightening")
	act("button", "4 stations")
	p.measure("1.64", "1.66", "1.65", "1.63")
	act("button", "Keep the readings")
	p.find("heading", "Nuts fully engaged")
	act("button", "^Yes, it is so")
	p.closing(act, "M. Tolley")
}

// closing hands an accepted joint over, signed for by whoever tightened it, and seals its record.
func (p *page) closing(act func(what, text string), by string) {
	p.t.Helper()
	for _, h := range []string{"Wrench put to bed", "Guards, covers", "Tag on the joint"} {
		p.find("heading", h)
		act("button", "^Yes, it is so")
	}
	act("button", "Sign as the one who tightened")
	act("radio", by)
	p.fill("PIN of", pins[by])
	act("button", "^Sign$")
	act("button", "A different inspector signs")
	name, pin := p.second()
	act("radio", name)
	p.fill("PIN of", pin)
	act("button", "^Sign$")
	act("button", "^Seal the record")
	p.find("heading", "Sealed as ")
}
