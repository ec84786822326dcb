package main

import (
	"cmp"
	"encoding/json"
	"io"
	"os"

	"github.com/spf13/cobra"

	"uvent/core/record/bring"
	"uvent/core/record/doubles"
	"uvent/core/record/sheet"
	"uvent/core/record/table"
)

func calcSheetCommand() *cobra.Command {
	country := ""
	c := &cobra.Command{
		Use: "sheet FILE", Short: "Read a file of locations as it would be brought in", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			return calcSheet(data, country, c.OutOrStdout())
		},
	}
	c.Flags().StringVar(&country, "country", "", "of rows that do not tell theirs (ISO 3166-1 alpha-2)")
	return c
}

type sheetAnswer struct {
	Encoding  table.Encoding `json:"encoding"`
	Delimiter string         `json:"delimiter"` // empty in XLSX
	Columns   []sheetColumn  `json:"columns"`
	Rows      []sheetRow     `json:"rows"` // in the order of the file
}

type sheetColumn struct {
	Head string `json:"head"`
	Fact string `json:"fact"` // by its name in docs/csv.md; empty where the column is left out
}

type sheetRow struct {
	Line    int               `json:"line"`
	Facts   map[string]string `json:"facts"`
	Changed []sheetChange     `json:"changed"`
	Left    []sheetLeft       `json:"left"`
	Verdict string            `json:"verdict"` // new, same, probably, waits or skipped
	Of      int               `json:"of,omitempty"`
	Says    string            `json:"says,omitempty"` // why, of what is not new
}

type sheetChange struct {
	Fact string `json:"fact"`
	From string `json:"from"`
	To   string `json:"to"`
	Sure bool   `json:"sure"`
}

type sheetLeft struct {
	Column string `json:"column"`
	Value  string `json:"value"`
	Says   string `json:"says"`
}

// calcSheet reads a file of locations, without anything to hold it against but itself.
func calcSheet(data []byte, country string, out io.Writer) error {
	t, err := table.Read(data, table.Options{Known: sheet.Known})
	if err != nil {
		return err
	}
	a := sheetAnswer{Encoding: t.Encoding, Columns: []sheetColumn{}, Rows: []sheetRow{}}
	if t.Delimiter != 0 {
		a.Delimiter = string(t.Delimiter)
	}
	columns := sheet.Match(t)
	for i, head := range t.Header {
		a.Columns = append(a.Columns, sheetColumn{head, columns[i]})
	}
	skipped := t.Skipped
	skip := func(before int) {
		for len(skipped) > 0 && skipped[0].Line < before {
			a.Rows = append(a.Rows, sheetRow{skipped[0].Line, map[string]string{}, []sheetChange{}, []sheetLeft{}, "skipped", 0, skipped[0].Says})
			skipped = skipped[1:]
		}
	}
	rows := bring.Read(t, columns, bring.World{Country: country})
	for _, r := range rows {
		skip(r.Line)
		a.Rows = append(a.Rows, rowAnswer(r, rows))
	}
	skip(1 << 30)
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	return e.Encode(a)
}

func rowAnswer(r bring.Row, rows []bring.Row) sheetRow {
	row := sheetRow{Line: r.Line, Facts: sheet.Facts(r.Record), Changed: []sheetChange{}, Left: []sheetLeft{}, Verdict: string(r.Verdict)}
	if row.Facts[sheet.ClientField] = r.Client; r.Client == "" {
		delete(row.Facts, sheet.ClientField)
	}
	if zone, ok := r.Record.Location(); ok {
		row.Facts["time_zone"] = zone.String()
	}
	for _, c := range r.Readings {
		row.Changed = append(row.Changed, sheetChange{c.Key, c.From, cmp.Or(row.Facts[c.Key], c.To), c.Sure})
	}
	for _, p := range r.Problems {
		row.Left = append(row.Left, sheetLeft{p.Column, p.Value, p.Reason})
	}
	switch {
	case r.Standing == bring.Waits:
		row.Verdict = "waits"
	case r.Verdict != doubles.New:
		row.Of, row.Says = rows[r.Row].Line, r.Reasons[0]
	}
	return row
}
