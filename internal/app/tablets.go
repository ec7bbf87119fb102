package app

import (
	"context"
	"strings"
	"time"

	"dynacor/internal/store"
)

// DeviceRow is a tablet, telephone or desk that has a key of its own.
type DeviceRow struct {
	ID      string     `json:"id"`
	Name    string     `json:"name"`    // "" until somebody gave one
	Person  string     `json:"person"`  // last at work on it
	AtWork  bool       `json:"atWork"`  // still
	Backlog int        `json:"backlog"` // entries that it said it had not sent yet
	Since   time.Time  `json:"since"`
	SpokeAt time.Time  `json:"spokeAt"`
	ShutAt  *time.Time `json:"shutAt,omitempty"` // nobody signs in on it any more
}

// Devices lists the devices that people sign in on, the one that spoke last first.
func (a *App) Devices(ctx context.Context) ([]DeviceRow, error) {
	rows, err := a.q.ListDeviceKeys(ctx)
	if err != nil {
		return nil, err
	}
	out := []DeviceRow{}
	for _, r := range rows {
		out = append(out, DeviceRow{r.ID, r.Name, r.Person, r.AtWork, int(r.Backlog), r.MadeAt, r.SpokeAt, r.ShutAt})
	}
	return out, nil
}

// DeviceChange is what an administrator says of a device; what is not given stays.
type DeviceChange struct {
	Name *string `json:"name,omitempty"`
	Shut *bool   `json:"shut,omitempty"`
}

// ChangeDevice names a device, shuts it out or lets it in again. Shut out, every sign-in on it ends and none begins;
// what it sent before stays as it is.
func (a *App) ChangeDevice(ctx context.Context, id string, c DeviceChange) ([]DeviceRow, error) {
	var ended []string
	err := a.tx(ctx, func(q *store.Queries) error {
		kept, err := q.LockDeviceKeys(ctx, []string{id})
		if err != nil {
			return err
		}
		if len(kept) == 0 {
			return notFound("device", id)
		}
		if c.Name != nil {
			name := strings.TrimSpace(*c.Name)
			if len([]rune(name)) > 60 {
				return &Problem{Kind: Invalid, Title: "The name is too long.", Field: "name",
					Remedy: "Use 60 characters at most."}
			}
			if _, err := q.NameDevice(ctx, store.NameDeviceParams{ID: id, Name: name}); err != nil {
				return err
			}
		}
		if c.Shut == nil {
			return nil
		}
		if !*c.Shut {
			_, err := q.ShutDevice(ctx, store.ShutDeviceParams{ID: id})
			return err
		}
		now := a.now().UTC()
		if _, err := q.ShutDevice(ctx, store.ShutDeviceParams{ID: id, ShutAt: &now}); err != nil {
			return err
		}
		if err := q.EndShifts(ctx, store.EndShiftsParams{KeyID: id, EndedAt: &now}); err != nil {
			return err
		}
		list, err := q.EndLoginsOn(ctx, store.EndLoginsOnParams{DeviceKey: id, EndedAt: &now,
			EndedWhy: "the device was shut out"})
		for _, u := range list {
			ended = append(ended, u.String())
		}
		return err
	})
	if err != nil {
		return nil, err
	}
	for _, id := range ended {
		a.tellEnded(id)
	}
	return a.Devices(ctx)
}
