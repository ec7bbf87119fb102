package main

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"dynacor/core/practice"
	"dynacor/core/quantity"
	"dynacor/core/tool"
	"dynacor/internal/demo"
	"dynacor/internal/standin"
	"dynacor/web"
)

type standinCmd struct {
	Server string   `help:"Dynacor to send to." default:"http://127.0.0.1:8080" env:"DYNACOR_SERVER"`
	Addr   string   `help:"Address of the page on which the tools are pulled." default:"127.0.0.1:8090" env:"DYNACOR_STANDIN_ADDR"`
	Tool   []string `help:"A tool as tag:kind:token, for example E-03:electronic_angle:secret. Without one the tools of the demo site." sep:","`
	Target float64  `help:"Torque that the joints under the tools are made for, N·m." default:"360"`
}

// demoKinds are the tools of the demo site that have a stand-in.
var demoKinds = []struct {
	tag  string
	kind tool.Kind
}{{"E-03", tool.ElectronicAngle}, {"W-40", tool.Click}, {"P-2", tool.Pump}, {"M-1", tool.TorqueMeter},
	{"G-1", tool.Caliper}, {"G-2", tool.StretchGauge}}

// standinChart is that of the hydraulic wrench behind a pump.
var standinChart = []tool.ChartPoint{{Pressure: 10, Torque: 645}, {Pressure: 20, Torque: 1285},
	{Pressure: 40, Torque: 2560}, {Pressure: 55, Torque: 3510}, {Pressure: 70, Torque: 4450}}

func (c standinCmd) Run(ctx context.Context) error {
	list, err := c.configs()
	if err != nil {
		return err
	}
	pages, err := web.Handler()
	if err != nil {
		return err
	}
	ln, err := listen(c.Addr)
	if err != nil {
		return err
	}
	fmt.Printf("Stand-ins for %s\n\n  pull them at  http://%s\n  they send to  %s\n  stop          Ctrl C\n\n",
		strings.Join(tagsOf(list), ", "), ln.Addr(), c.Server)
	return runStandIns(ctx, ln, c.Server, list, pages)
}

func tagsOf(list []standin.Config) []string {
	var out []string
	for _, c := range list {
		out = append(out, c.Tag)
	}
	return out
}

// runStandIns links the tools and serves their page until ctx ends.
func runStandIns(ctx context.Context, ln net.Listener, server string, list []standin.Config, pages http.Handler) error {
	ctx, cancel := context.WithCancel(ctx)
	var links sync.WaitGroup
	defer links.Wait()
	defer cancel()
	var tools []*standin.Tool
	for _, cfg := range list {
		t := standin.New(cfg)
		tools = append(tools, t)
		links.Go(func() { _ = t.Run(ctx, server) })
	}
	srv := &http.Server{Handler: standin.Handler(tools, pages), ReadHeaderTimeout: 10 * time.Second,
		BaseContext: func(net.Listener) context.Context { return ctx }}
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(ln) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
		end, stop := context.WithTimeout(context.Background(), 2*time.Second)
		defer stop()
		_ = srv.Shutdown(end)
		return nil
	}
}

func (c standinCmd) configs() ([]standin.Config, error) {
	var out []standin.Config
	add := func(tag string, kind tool.Kind, token string) {
		joint := practice.Flange(24, 3, 0.15, quantity.Torque(c.Target))
		if kind == tool.Pump {
			joint = practice.Flange(36, 4, 0.15, 2400)
		}
		out = append(out, standin.Config{Tag: tag, Kind: kind, Token: token, Seed: standin.Seed(tag), Joint: joint,
			Chart: standinChart})
	}
	for _, s := range c.Tool {
		f := strings.SplitN(s, ":", 3)
		if len(f) != 3 || tool.Kind(f[1]).Word() == "" {
			return nil, fmt.Errorf("--tool %q: write tag:kind:token; kinds are electronic_angle, electronic, click, "+
				"dial, pump, torque_meter, caliper, stretch_gauge", s)
		}
		add(f[0], tool.Kind(f[1]), f[2])
	}
	if len(out) == 0 {
		for _, d := range demoKinds {
			add(d.tag, d.kind, demo.Tokens[d.tag])
		}
	}
	return out, nil
}
