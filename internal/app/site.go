package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/hex"
	"fmt"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"time"

	"dynacor/core/authority"
	"dynacor/core/run"
	"dynacor/internal/store"
)

// SiteArea is an area of the site in its order, with a drawing of the plant line.
type SiteArea struct {
	Name    string `json:"name"`
	Drawing string `json:"drawing"` // one of Drawings, "" for none
	Joints  int    `json:"joints"`
	Was     string `json:"was,omitempty"` // when it is put: its name before, to rename it with its joints
}

// Site is what an installation is called and how its plant line is drawn.
type Site struct {
	Name     string     `json:"name"`
	Prefix   string     `json:"prefix"`   // first letters of record numbers
	TimeZone string     `json:"timeZone"` // of the IANA list
	Address  string     `json:"address"`  // where Dynacor is found, for the codes on tags; "": not said
	Line     string     `json:"line"`     // how the plant line reads: sea to land
	Areas    []SiteArea `json:"areas"`

	// what there is, up to a thousand
	People  int `json:"people"`
	Tools   int `json:"tools"`
	Joints  int `json:"joints"`
	Records int `json:"records"`
}

// Drawings lists what an area of the plant line can be drawn as.
func Drawings() []string {
	return []string{"intake", "rotor", "gearbox", "pumps", "tower", "tank", "boiler", "conveyor", "press", "bridge",
		"workshop", "gate"}
}

// More settings of an installation.
const (
	settingZone    = "time_zone"
	settingAddress = "address"
	settingLine    = "plant_line"
	settingFirst   = "first_day" // digest of the code that lets the first administrator in
)

// Site tells what an installation is called, how its plant line is drawn and what there is.
func (a *App) Site(ctx context.Context) (Site, error) {
	s := Site{Areas: []SiteArea{}}
	for key, v := range map[string]*string{SettingSite: &s.Name, SettingSiteCode: &s.Prefix, settingZone: &s.TimeZone,
		settingAddress: &s.Address, settingLine: &s.Line} {
		var err error
		if *v, err = a.Setting(ctx, key, ""); err != nil {
			return s, err
		}
	}
	n, err := a.q.SiteCounts(ctx)
	if err != nil {
		return s, err
	}
	s.People, s.Tools, s.Joints, s.Records = int(n.People), int(n.Tools), int(n.Joints), int(n.Records)
	own, err := a.q.ListAreas(ctx)
	if err != nil {
		return s, err
	}
	totals, err := a.q.AreaTotals(ctx)
	if err != nil {
		return s, err
	}
	joints := map[string]int{}
	for _, t := range totals {
		joints[t.Area] = int(t.Total)
	}
	for _, r := range own {
		s.Areas = append(s.Areas, SiteArea{Name: r.Name, Drawing: r.Drawing, Joints: joints[r.Name]})
		delete(joints, r.Name)
	}
	for _, t := range totals { // those that nobody has put in their place stand behind
		if n, left := joints[t.Area]; left {
			s.Areas = append(s.Areas, SiteArea{Name: t.Area, Joints: n})
		}
	}
	return s, nil
}

var prefixForm = regexp.MustCompile(`^[A-Z][A-Z0-9]{0,5}$`)

// check refuses what a site cannot be called.
func (s *Site) check() error {
	invalid := func(field, title, remedy string) error {
		return &Problem{Kind: Invalid, Field: field, Title: title, Remedy: remedy}
	}
	s.Name, s.Line, s.Address = strings.TrimSpace(s.Name), strings.TrimSpace(s.Line), strings.TrimSpace(s.Address)
	if s.Name == "" || len(s.Name) > 120 {
		return invalid(
			"name",
			"The site has no name.",
			"Write it as it is to stand on records; 120 characters at most.",
		)
	}
	if !prefixForm.MatchString(s.Prefix) {
		return invalid("prefix", fmt.Sprintf("%q cannot begin a record number.", s.Prefix),
			"Use one to six capital letters and digits, beginning with a letter.")
	}
	if _, err := time.LoadLocation(s.TimeZone); err != nil || s.TimeZone == "" || s.TimeZone == "Local" {
		return invalid("timeZone", fmt.Sprintf("%q is not a time zone.", s.TimeZone), "Choose one, as Europe/Oslo.")
	}
	if u, err := url.Parse(s.Address); s.Address != "" &&
		(err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" || u.RawQuery != "") {
		return invalid("address", fmt.Sprintf("%q is not the address of a page.", s.Address),
			"Write it as https://dynacor.plant.example.")
	}
	s.Address = strings.TrimRight(s.Address, "/")
	if len(s.Line) > 60 {
		return invalid("line", "The plant line is called in 60 characters at most.", "Say it shorter.")
	}
	return checkAreas(s.Areas)
}

// checkAreas refuses an area without a name, two of one name, and a drawing that is not to be had.
func checkAreas(list []SiteArea) error {
	invalid := func(field, title, remedy string) error {
		return &Problem{Kind: Invalid, Field: field, Title: title, Remedy: remedy}
	}
	seen := map[string]bool{}
	for i := range list {
		r := &list[i]
		field := fmt.Sprintf("areas[%d].", i)
		if r.Name = strings.TrimSpace(r.Name); r.Name == "" || len(r.Name) > 80 {
			return invalid(
				field+"name",
				"An area has no name.",
				"Write one, 80 characters at most, or leave the area out.",
			)
		}
		if seen[r.Name] {
			return invalid(field+"name", "There are two areas called "+r.Name+".", "Give each its own name.")
		}
		seen[r.Name] = true
		if r.Drawing != "" && !slices.Contains(Drawings(), r.Drawing) {
			return invalid(field+"drawing", fmt.Sprintf("%q is no drawing.", r.Drawing),
				"Choose of "+strings.Join(Drawings(), ", ")+", or none.")
		}
	}
	return nil
}

// PutSite says what the site is called and how its plant line is drawn. An area with another name takes its joints
// along; one that is left out keeps its joints and stands behind the others.
func (a *App) PutSite(ctx context.Context, s Site) (Site, error) {
	if err := s.check(); err != nil {
		return Site{}, err
	}
	err := a.tx(ctx, func(q *store.Queries) error { return putSite(ctx, q, s) })
	if err != nil {
		return Site{}, err
	}
	return a.Site(ctx)
}

func putSite(ctx context.Context, q *store.Queries, s Site) error {
	for key, v := range map[string]string{SettingSite: s.Name, SettingSiteCode: s.Prefix, settingZone: s.TimeZone,
		settingAddress: s.Address, settingLine: s.Line} {
		if err := q.PutSetting(ctx, store.PutSettingParams{Key: key, Value: v}); err != nil {
			return err
		}
	}
	keep := []string{}
	for i, r := range s.Areas {
		if r.Was != "" && r.Was != r.Name {
			if _, err := q.RenameArea(ctx, store.RenameAreaParams{Was: r.Was, IsNow: r.Name}); err != nil {
				return err
			}
		}
		if err := q.PutArea(ctx, store.PutAreaParams{Name: r.Name, Place: int32(i), Drawing: r.Drawing}); err != nil {
			return err
		}
		keep = append(keep, r.Name)
	}
	return q.DropAreas(ctx, keep)
}

// FirstDay is what the first administrator of an installation enters, with the code that the server printed.
type FirstDay struct {
	Code     string `json:"code"`
	Person   string `json:"person"`
	PIN      string `json:"pin"`
	Site     string `json:"site"`
	Prefix   string `json:"prefix"`
	TimeZone string `json:"timeZone"`
}

func digest(code string) string {
	sum := sha256.Sum256([]byte(strings.ToUpper(strings.TrimSpace(code))))
	return hex.EncodeToString(sum[:])
}

// IsFirstDay reports whether nobody can sign in yet.
func (a *App) IsFirstDay(ctx context.Context) (bool, error) {
	list, err := a.q.ListPeople(ctx)
	return err == nil && len(list) == 0, err
}

// FirstCode gives a fresh code for the first administrator, "" when there are people already. Whoever starts the server
// sees it; an earlier one counts no more.
func (a *App) FirstCode(ctx context.Context) (string, error) {
	first, err := a.IsFirstDay(ctx)
	if err != nil || !first {
		return "", err
	}
	code := rand.Text()[:8]
	return code[:4] + "-" + code[4:], a.PutSetting(ctx, settingFirst, digest(code))
}

// Begin makes the first administrator, who is engineer and lead as well, and names the site. A wrong code ends the
// code: the server is started anew to see another.
func (a *App) Begin(ctx context.Context, in FirstDay) (run.Person, error) {
	s := Site{Name: in.Site, Prefix: in.Prefix, TimeZone: in.TimeZone}
	if err := s.check(); err != nil {
		return run.Person{}, err
	}
	if strings.TrimSpace(in.Person) == "" {
		return run.Person{}, &Problem{Kind: Invalid, Field: "person", Title: "You have no name.",
			Remedy: "Write yours as it is to stand on records."}
	}
	hash, err := a.hasher.Hash(in.PIN)
	if err != nil {
		return run.Person{}, badPIN(err)
	}
	want, err := a.Setting(ctx, settingFirst, "")
	if err != nil {
		return run.Person{}, err
	}
	given := digest(strings.ReplaceAll(in.Code, "-", ""))
	if want == "" || subtle.ConstantTimeCompare([]byte(given), []byte(want)) != 1 {
		if err := a.PutSetting(ctx, settingFirst, ""); err != nil {
			return run.Person{}, err
		}
		return run.Person{}, &Problem{Kind: Forbidden, Field: "code", Title: "This is not the code.",
			Remedy: "Start the server anew and read the code that it prints then; this one counts no more."}
	}
	role, _ := authority.Written([]string{authority.Lead, authority.Engineer, authority.Administrator})
	p := run.Person{Name: strings.TrimSpace(in.Person), Role: role}
	err = a.tx(ctx, func(q *store.Queries) error {
		if err := q.LockPeople(ctx); err != nil {
			return err
		}
		if list, err := q.ListPeople(ctx); err != nil || len(list) > 0 {
			return errorOr(err, &Problem{Kind: Conflict, Title: "Somebody was quicker: there are people already.",
				Remedy: "Sign in, or ask an administrator to add you."})
		}
		if p.ID, err = insertPerson(ctx, q, p, hash); err != nil {
			return err
		}
		if err := q.PutSetting(ctx, store.PutSettingParams{Key: settingFirst, Value: ""}); err != nil {
			return err
		}
		return putSite(ctx, q, s)
	})
	return p, err
}

func errorOr(err, other error) error {
	if err != nil {
		return err
	}
	return other
}

// BackupRow is a backup that was written.
type BackupRow struct {
	At    time.Time `json:"at"`
	File  string    `json:"file"`
	Bytes int       `json:"bytes"`
}

// Backups lists the latest backups, the newest first.
func (a *App) Backups(ctx context.Context) ([]BackupRow, error) {
	rows, err := a.q.ListBackups(ctx)
	if err != nil {
		return nil, err
	}
	out := []BackupRow{}
	for _, r := range rows {
		out = append(out, BackupRow{r.At, r.File, int(r.Bytes)})
	}
	return out, nil
}
