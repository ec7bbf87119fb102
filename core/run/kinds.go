package run

import (
	"fmt"
	"slices"
	"strings"

	"dynacor/core/plan"
	"dynacor/core/procedure"
	"dynacor/core/quantity"
)

// payload is what events of a kind carry beside the header that all have: identifier, time and person. An event is
// written flat, so that a chain reads the same however the kinds are held here.
type payload struct {
	says func(Event) error // refuses one that says nothing usable
	// refuses one about something that the plan does not have; nil: there is nothing to fit
	fits func(Event, *plan.Plan) error
	take func(*folder, Event) // nil: it changes nothing
}

// kinds holds every kind of event.
var kinds map[Kind]payload

func init() { // their parts name events and rules that name them in turn
	kinds = map[Kind]payload{
		ReadConfirmed:    {says: nothing, take: (*folder).read},
		CheckAnswered:    {says: saysAnswer, fits: fitsCheck, take: (*folder).answer},
		WrenchTaken:      {says: saysTools, fits: fitsGroup, take: (*folder).take},
		SettingConfirmed: {says: saysSetting, take: (*folder).confirm},
		Pulled:           {says: saysPull, fits: fitsFastener, take: (*folder).pull},
		Skipped:          {says: saysLeft, fits: fitsFastener, take: (*folder).skip},
		Loosened:         {says: saysLeft, fits: fitsFastener, take: (*folder).loosen},
		TakenBack:        {says: saysTakenBack},
		Paused:           {says: nothing, take: (*folder).pause},
		Held:             {says: saysReason, take: (*folder).stopBy},
		Released:         {says: nothing, take: (*folder).lift},
		DeviationRaised:  {says: saysReason, fits: fitsCheck, take: (*folder).raiseByHand},
		Noted:            {says: func(e Event) error { return needed("note", e.Note) }},
		Signed:           {says: saysSignature, take: (*folder).sign},
		ToolDoubted:      {says: saysDoubt, take: (*folder).doubt},
		PartChanged:      {says: saysPart, fits: fitsPart, take: (*folder).changePart},
	}
}

// Validate refuses an event that says nothing usable. It does not judge the work.
func (e Event) Validate() error {
	if e.ID == "" {
		return quantity.Refuse("id", "Send the event's own identifier.", "is empty")
	}
	if e.At.IsZero() {
		return quantity.Refuse("at", "Send the device's time.", "is empty")
	}
	if err := e.within(); err != nil {
		return err
	}
	if err := e.picture(); err != nil {
		return err
	}
	k, known := kinds[e.Kind]
	if !known {
		return quantity.Refuse("kind", "Use a newer version of the program.", "%q is not a kind of event",
			string(e.Kind))
	}
	return k.says(e)
}

// Fits refuses an event about something that the plan does not have: a fastener, a check, a group or a tool too many.
// Nobody can have done that, and nothing of it could be shown.
func (e Event) Fits(p *plan.Plan) error {
	if most := max(1, p.Choices.Together); e.Hand >= most {
		remedy := "One tool pulls here."
		if most > 1 {
			remedy = fmt.Sprintf("%d tools pull here; the first is 0.", most)
		}
		return quantity.Refuse("hand", remedy, "is %d", e.Hand)
	}
	if p.Apart() && (e.Kind == Loosened || e.Kind == PartChanged) {
		return quantity.Refuse("kind", "Let it go in its round.", "is not for a joint that is taken apart")
	}
	if fits := kinds[e.Kind].fits; fits != nil {
		return fits(e, p)
	}
	return nil
}

func nothing(Event) error { return nil }

// picture refuses a photo that is not named as a device names one that it keeps: by its identifier and the digest of
// its bytes. The picture itself follows, and must be that one, before the record is sealed.
func (e Event) picture() error { return CheckPicture(e.Photo, e.PhotoSHA256) }

// CheckPicture refuses, by the field "photo", a picture that is named otherwise than by its identifier and the SHA-256
// of its bytes as the device sent them, in hexadecimal. No name at all is no picture.
func CheckPicture(photo, digest string) error {
	if photo == "" && digest == "" {
		return nil
	}
	if !isUUID(photo) || len(digest) != 64 || strings.Trim(digest, "0123456789abcdef") != "" {
		return quantity.Refuse("photo", "Take the photo on this device, then answer.",
			"names no picture that was taken")
	}
	return nil
}

// isUUID reports whether a text is an identifier in its usual form.
func isUUID(s string) bool {
	if len(s) != 36 {
		return false
	}
	for i, c := range []byte(s) {
		if dash := i == 8 || i == 13 || i == 18 || i == 23; dash != (c == '-') ||
			!dash && !strings.ContainsRune("0123456789abcdef", rune(c)) {
			return false
		}
	}
	return true
}

// needed refuses an empty text where a few words are wanted.
func needed(field, v string) error {
	if v == "" {
		return quantity.Refuse(field, "Say why in a few words.", "is empty")
	}
	return nil
}

func saysReason(e Event) error { return needed("reason", e.Reason) }

func saysAnswer(e Event) error {
	if e.Check == "" {
		return quantity.Refuse("check", "Name the check.", "is empty")
	}
	if e.Answer == "na" && (len([]rune(strings.TrimSpace(e.Reason))) < 10 || len(strings.Fields(e.Reason)) < 2) {
		return quantity.Refuse("reason",
			"Say in a few words why the check does not apply here; it stands on the record.",
			"says too little")
	}
	return nil
}

func saysTools(e Event) error {
	if e.Wrench == nil {
		return quantity.Refuse("wrench", "Choose a wrench.", "is empty")
	}
	if e.SetUp != nil && len(e.SetUp.String) == 0 {
		return quantity.Refuse("setUp", "Name the tools from the hand to the nut.", "is empty")
	}
	return e.Wrench.Check()
}

func saysSetting(e Event) error { return quantity.Positive("setting", e.Setting) }

// saysWhere refuses one that names no fastener of a pass.
func saysWhere(e Event) error {
	if e.Fastener < 1 || e.Pass < 1 {
		return quantity.Refuse("fastener", "Name pass and fastener.", "is missing")
	}
	return nil
}

func saysLeft(e Event) error {
	if err := saysWhere(e); err != nil {
		return err
	}
	return saysReason(e)
}

// saysOutcome refuses an outcome without what belongs to it.
func saysOutcome(e Event) error {
	switch {
	case e.Outcome == StuckFast && !slices.Contains(Forces(), Force(e.Method)):
		return quantity.Refuse("method", "Say oil, heat or cut.", "does not say what it is to be got off with")
	case (e.Outcome == Reached || e.Outcome == Measured) && e.Reading == nil:
		return quantity.Refuse("reading", "Enter what the tool showed.", "is empty")
	}
	return nil
}

func saysPull(e Event) error {
	if err := saysWhere(e); err != nil {
		return err
	}
	if !slices.Contains(outcomes, e.Outcome) {
		return quantity.Refuse("outcome", "Choose "+listed(outcomes)+".", "%q is not an outcome", string(e.Outcome))
	}
	if err := saysOutcome(e); err != nil {
		return err
	}
	if e.TurnedDeg < 0 || e.TurnedDeg > 3600 || !quantity.Finite(e.TurnedDeg) {
		return quantity.Refuse("turnedDeg", "Enter degrees from 0 to 3600.", "is %s", quantity.Text(e.TurnedDeg))
	}
	if e.Hand < 0 || e.Hand > 3 {
		return quantity.Refuse("hand", "Use 0 for the first tool, 3 for the fourth.", "is %d", e.Hand)
	}
	if e.Setting == 0 && e.Outcome.mayHaveNoSetting() || !e.Outcome.byTool() {
		return nil // no tool is set for it
	}
	return saysSetting(e)
}

func saysTakenBack(e Event) error {
	if e.Ref == "" {
		return quantity.Refuse("ref", "Name the event to take back.", "is empty")
	}
	return saysReason(e)
}

func saysDoubt(e Event) error {
	if e.Tool == "" {
		return quantity.Refuse("tool", "Name the tool by its tag.", "is empty")
	}
	return saysReason(e)
}

func saysSignature(e Event) error {
	if e.Signer == nil || e.Purpose == "" {
		return quantity.Refuse("signer", "Sign with name and PIN.", "is missing")
	}
	return nil
}

func fitsFastener(e Event, p *plan.Plan) error {
	if n := p.Count(); e.Fastener > n {
		return quantity.Refuse("fastener", fmt.Sprintf("Name one of the %d by its position.", n),
			"is %d, and the joint has %d", e.Fastener, n)
	}
	return nil
}

func fitsCheck(e Event, p *plan.Plan) error {
	c, asked := p.Check(e.Check)
	if e.Check != "" && !asked {
		return quantity.Refuse("check", "Open the joint again; its plan may have changed.",
			"is %q, which the plan does not ask", e.Check)
	}
	// whoever mends it later must see what was seen
	if found := e.Answer == "repair" || e.Answer == "replace"; e.Kind == CheckAnswered &&
		c.Kind == procedure.Condition &&
		found && (e.Photo == "" || strings.TrimSpace(e.Note) == "") {
		return quantity.Refuse("photo", "Take a photo and say in a few words what is wrong.", "is missing for %q",
			e.Answer)
	}
	return nil
}

func fitsGroup(e Event, p *plan.Plan) error {
	if e.Group != "" && !slices.ContainsFunc(p.Groups, func(g plan.FastenerGroup) bool { return g.Code == e.Group }) {
		return quantity.Refuse("group", "Open the joint again; its plan may have changed.",
			"is %q, which the joint does not have", e.Group)
	}
	return nil
}

// What went in when a part was taken out.
const (
	NewPart  = "new"
	Refitted = "refitted" // the same again
)

func saysPart(e Event) error {
	if e.Part == "" {
		return quantity.Refuse("part", "Name the part by its code in the list.", "is empty")
	}
	if e.Answer != NewPart && e.Answer != Refitted {
		return quantity.Refuse("answer", "Say new or refitted.", "%q does not say what went in", e.Answer)
	}
	return saysReason(e)
}

func fitsPart(e Event, p *plan.Plan) error {
	x, known := p.Part(e.Part)
	switch {
	case !known:
		return quantity.Refuse("part", "Choose one of the list of parts.", "is %q, which the joint does not have",
			e.Part)
	case p.Needs == nil:
		return quantity.Refuse("part", "Loosen the fasteners one by one, or let an engineer plan the joint again.",
			"cannot be followed: the plan is from before parts could be changed")
	case x.Once && e.Answer == Refitted:
		return quantity.Refuse("answer", "Take a new one.", "cannot be: %s is used once", strings.ToLower(x.Name))
	case x.PerBolt && (e.Fastener < 1 || x.Fasteners != "" && fitsFastener(e, p) == nil &&
		p.GroupAt(e.Fastener).Code != x.Fasteners):
		return quantity.Refuse("fastener", "Name the fastener whose "+strings.ToLower(x.Name)+" it is.", "is missing")
	}
	return fitsFastener(e, p)
}
