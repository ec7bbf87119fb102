package main

import (
	"context"
	"fmt"

	"dynacor/internal/app"
)

// on opens the application and does something with it.
func (d database) on(ctx context.Context, do func(a *app.App) error) error {
	a, pool, err := d.open(ctx)
	if err != nil {
		return err
	}
	defer pool.Close()
	return do(a)
}

// change is on, and says what has changed.
func (d database) change(ctx context.Context, done string, do func(a *app.App) error) error {
	err := d.on(ctx, do)
	if err == nil {
		fmt.Println(done)
	}
	return err
}

type userAddCmd struct {
	database
	Name string `arg:"" help:"Name as it is to stand on records."`
	Role string `arg:"" help:"technician, tool keeper, lead, inspector, engineer or administrator; several with commas between them."`
	PIN  string `help:"4 to 8 digits, or a passphrase of 12 to 128 characters." required:"" env:"DYNACOR_PIN"`
}

func (c userAddCmd) Run(ctx context.Context) error {
	return c.on(ctx, func(a *app.App) error {
		p, err := a.AddPerson(ctx, c.Name, c.Role, c.PIN)
		if err == nil {
			fmt.Printf("%s can sign in as %s.\n", p.Name, p.Role)
		}
		return err
	})
}

type userPINCmd struct {
	database
	Name string `arg:"" help:"Whose."`
	PIN  string `help:"4 to 8 digits, or a passphrase of 12 to 128 characters." required:"" env:"DYNACOR_PIN"`
}

func (c userPINCmd) Run(ctx context.Context) error {
	return c.change(ctx, c.Name+" has a new PIN. Whatever was signed in with the old one has ended.",
		func(a *app.App) error { return a.SetPIN(ctx, c.Name, c.PIN) })
}

type userRoleCmd struct {
	database
	Name string `arg:"" help:"Whose."`
	Role string `arg:"" help:"technician, tool keeper, lead, inspector, engineer or administrator; several with commas between them."`
}

func (c userRoleCmd) Run(ctx context.Context) error {
	return c.change(ctx, fmt.Sprintf("%s is %s from the next sign-in on.", c.Name, c.Role),
		func(a *app.App) error { return a.SetRole(ctx, c.Name, c.Role) })
}

type userRetireCmd struct {
	database
	Name string `arg:"" help:"Who may not sign in any more. What they did stays under their name."`
}

func (c userRetireCmd) Run(ctx context.Context) error {
	return c.change(ctx, c.Name+" cannot sign in any more.",
		func(a *app.App) error { return a.RetirePerson(ctx, c.Name) })
}

type userReturnCmd struct {
	database
	Name string `arg:"" help:"A retired person who may sign in again."`
}

func (c userReturnCmd) Run(ctx context.Context) error {
	return c.change(ctx, c.Name+" can sign in again.", func(a *app.App) error { return a.ReturnPerson(ctx, c.Name) })
}
