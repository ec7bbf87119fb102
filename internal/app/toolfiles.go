package app

import (
	"bytes"
	"context"
	"errors"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"

	"dynacor/core/record"
	"dynacor/core/tool"
	"dynacor/internal/exchange"
	"dynacor/internal/picture"
	"dynacor/internal/store"
)

// PutToolFile keeps a photo or a certificate with a tool, under the identifier the device gave it; sending it twice is
// one file.
func (a *App) PutToolFile(ctx context.Context, who Actor, tag, id, kind, name string, data []byte) (ToolDetail, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return ToolDetail{}, notFound("file", id)
	}
	if _, err := a.q.GetTool(ctx, tag); none(err) {
		return ToolDetail{}, notFound("tool", tag)
	}
	media, err := picture.Check(data)
	if err != nil && kind == "certificate" && bytes.HasPrefix(data, []byte("%PDF-")) && len(data) <= picture.MostBytes {
		media, err = "application/pdf", nil
	}
	if errors.Is(err, picture.ErrNone) && kind == "certificate" {
		return ToolDetail{}, &Problem{Kind: Invalid, Title: "This is neither a picture nor a PDF.", Field: "file",
			Remedy: "Take a JPEG, PNG, WebP or PDF."}
	}
	if err != nil {
		return ToolDetail{}, notTaken(err)
	}
	sum, err := record.Digest(data)
	if err != nil {
		return ToolDetail{}, err
	}
	if name = strings.TrimSpace(name); name == "" {
		name = kind
	}
	if err := a.q.InsertToolFile(ctx, store.InsertToolFileParams{ID: u, Tag: tag, Kind: kind, Name: name,
		MediaType: media, Bytes: data, Digest: sum, AddedBy: who.Name}); err != nil {
		return ToolDetail{}, err
	}
	return a.Tool(ctx, tag)
}

// ToolFile gives a file of a tool back.
func (a *App) ToolFile(ctx context.Context, id string) (Photo, error) {
	u, err := uuid.Parse(id)
	if err != nil {
		return Photo{}, notFound("file", id)
	}
	f, err := a.q.GetToolFile(ctx, u)
	if none(err) {
		return Photo{}, notFound("file", id)
	}
	return Photo{f.MediaType, f.Bytes}, err
}

// ToolsForLabels gives the tools to print labels for, all of them without tags, and the site's name.
func (a *App) ToolsForLabels(ctx context.Context, tags []string) ([]tool.Tool, string, error) {
	site, err := a.Setting(ctx, SettingSite, "Site not named")
	if err != nil {
		return nil, "", err
	}
	list, err := crib(ctx, a.q)
	if err != nil {
		return nil, "", err
	}
	if len(tags) == 0 {
		return list, site, nil
	}
	var out []tool.Tool
	for _, tag := range tags {
		i := slices.IndexFunc(list, func(t tool.Tool) bool { return t.Tag == tag })
		if i < 0 {
			return nil, "", notFound("tool", tag)
		}
		out = append(out, list[i])
	}
	return out, site, nil
}

// ExportTools writes the crib as CSV, or as a spreadsheet.
func (a *App) ExportTools(ctx context.Context, w io.Writer, sheet bool) error {
	list, err := crib(ctx, a.q)
	if err != nil {
		return err
	}
	if sheet {
		return exchange.WriteToolSheet(w, list)
	}
	return exchange.WriteTools(w, list)
}

// ImportTools reads a list of tools. apply false only says what it would do; with apply true all of them are entered
// or, when any cell is wrong, none. A tool is known by its tag; its state is not changed.
func (a *App) ImportTools(ctx context.Context, who Actor, data []byte, apply bool) (ImportResult, error) {
	rows, cells, err := exchange.ReadTools(data)
	if err != nil {
		return ImportResult{}, &Problem{Kind: Invalid, Title: "The list was not read: " + err.Error() + ".",
			Field: "file", Remedy: "Nothing was imported."}
	}
	out := ImportResult{Rows: []ImportRow{}, Errors: []exchange.CellError{}}
	if len(cells) > 0 {
		lines := map[int]bool{}
		for _, c := range cells {
			lines[c.Line] = true
		}
		out.Errors, out.ErrorRows = cells[:min(len(cells), mostImportRows)], len(lines)
		return out, nil
	}
	err = a.tx(ctx, func(q *store.Queries) error {
		for _, r := range rows {
			if err := checkTag(r.Tool.Tag); err != nil {
				return err
			}
			r.Tool.State, r.Tool.StateReason = tool.InService, ""
			row := ImportRow{Line: r.Line, Tag: r.Tool.Tag, Name: r.Tool.Name(), Make: r.Tool.Maker, Does: "new"}
			old, err := q.LockTool(ctx, r.Tool.Tag)
			switch {
			case none(err):
				out.New++
			case err != nil:
				return err
			default:
				was, err := decode[tool.Tool](old.Data)
				if err != nil {
					return err
				}
				r.Tool.State, r.Tool.StateReason, r.Tool.Cycles = was.State, was.StateReason, was.Cycles
				now, err := encode(r.Tool)
				if err != nil {
					return err
				}
				before, err := encode(was)
				if err != nil {
					return err
				}
				if now == before {
					row.Does = "same"
					out.Same++
				} else {
					row.Does = "changed"
					out.Changed++
				}
			}
			if len(out.Rows) < mostImportRows {
				out.Rows = append(out.Rows, row)
			}
			if apply && row.Does != "same" {
				if err := a.putTool(ctx, q, r.Tool, who.Name, "imported from a list"); err != nil {
					return err
				}
			}
		}
		out.Applied = apply
		return nil
	})
	return out, err
}
