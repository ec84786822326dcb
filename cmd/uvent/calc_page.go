package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"time"

	"github.com/spf13/cobra"

	"uvent/core/fact/calendar"
	"uvent/core/fact/hours"
	"uvent/core/record/sighting"
	"uvent/core/rule/reading"
)

func calcPageCommand() *cobra.Command {
	var in reading.In
	today, rules := "", ""
	c := &cobra.Command{
		Use: "page FILE", Short: "Read what a public page shows of a location", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			in.Today = calendar.DateOf(time.Now())
			if today != "" {
				if in.Today, err = calendar.ParseDate(today); err != nil {
					return fmt.Errorf("calc page: --today: %q is no date; write it as 2026-11-24", today)
				}
			}
			if rules != "" {
				books, err := oneBook(rules)
				if err != nil {
					return err
				}
				in.Book = &books[0]
			}
			return calcPage(data, in, c.OutOrStdout())
		},
	}
	c.Flags().StringVar(&in.Address, "address", "", "of the page; links that are written short lead from it")
	c.Flags().StringVar(&in.Country, "country", "", "where the location is, if the page does not say (ISO 3166-1 alpha-2)")
	c.Flags().StringVar(&in.Region, "region", "", "of it (ISO 3166-2 without the country)")
	c.Flags().StringVar(&today, "today", "", "the date by which dates without a year are meant; today when empty")
	c.Flags().StringVar(&rules, "rulebook", "", "the directory's, as a file; it says where facts stand")
	return c
}

type pageAnswer struct {
	Facts map[string]any `json:"facts"`
	Reads reading.Kind   `json:"reads"`
	Half  bool           `json:"half"` // the page breaks off
}

// specialDate is a span of dates with hours of their own.
type specialDate struct {
	From  calendar.Date `json:"from"`
	To    calendar.Date `json:"to"`
	Hours string        `json:"hours"` // as in opening_hours; empty: closed
}

func calcPage(data []byte, in reading.In, out io.Writer) error {
	read := reading.Read(data, in)
	a := pageAnswer{Facts: map[string]any{}, Reads: read.Reads, Half: read.Half}
	if read.Reads == reading.Listing {
		a.Facts = factsSeen(read.Sighting)
	}
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(a)
}

// factsSeen are what was seen, by the names of columns (docs/csv.md).
func factsSeen(s sighting.Sighting) map[string]any {
	facts := map[string]any{}
	for key, v := range s.Columns() {
		facts[key] = v
	}
	if dates := s.Dates(); dates != nil {
		list := []specialDate{}
		for _, d := range dates {
			one := specialDate{From: d.From, To: d.To}
			if len(d.Sittings) > 0 {
				one.Hours = hours.SittingsText(d.Sittings)
			}
			list = append(list, one)
		}
		facts["special_dates"] = list
	}
	if s.Photos != nil {
		list := []string{}
		for _, p := range s.Photos {
			list = append(list, p.URL)
		}
		facts["photos"] = list
	}
	return facts
}
