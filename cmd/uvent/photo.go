package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strconv"

	"github.com/spf13/cobra"

	"uvent/core/fact/photo"
	"uvent/core/rule/fit"
	"uvent/core/rule/rulebook"
	"uvent/rulebooks"
)

func calcPhotoCommand() *cobra.Command {
	var group, rules string
	focus := photo.Middle
	c := &cobra.Command{
		Use: "photo FILE", Short: "Check a photo, measure it, and say how each directory cuts it", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			data, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			books, err := rulebooks.All()
			if rules != "" {
				books, err = oneBook(rules)
			}
			if err != nil {
				return err
			}
			return calcPhoto(data, group, focus, books, c.OutOrStdout())
		},
	}
	c.Flags().StringVar(&group, "group", "exterior", "what the photo is of: logo, cover, exterior, interior, team, at_work, product")
	c.Flags().StringVar(&rules, "rulebook", "", "a rulebook's file; without it, those that ship")
	c.Flags().Float64Var(&focus.X, "x", .5, "left edge of what must be seen, in parts of the width")
	c.Flags().Float64Var(&focus.Y, "y", .5, "its upper edge, in parts of the height")
	c.Flags().Float64Var(&focus.W, "w", 0, "its width, in parts; 0 for a point")
	c.Flags().Float64Var(&focus.H, "h", 0, "its height, in parts")
	return c
}

func oneBook(file string) ([]rulebook.Rulebook, error) {
	data, err := os.ReadFile(file)
	if err != nil {
		return nil, err
	}
	b, problems := rulebook.Parse(file, data)
	if problems != nil {
		return nil, problems[0]
	}
	return []rulebook.Rulebook{b}, nil
}

type photoAnswer struct {
	photo.Info
	Refused   string      `json:"refused"` // why it is not taken; empty when it is
	Sharpness float64     `json:"sharpness"`
	Blurred   bool        `json:"blurred"`
	Hash      string      `json:"hash"`
	Crops     []photoCrop `json:"crops"`
}

type photoCrop struct {
	Directory string     `json:"directory"`
	Label     string     `json:"label"`
	Crop      photo.Crop `json:"crop"`
	Window    [4]int     `json:"window"` // left, top, right, bottom, in pixels of the photo
	Faults    []string   `json:"faults"`
}

func calcPhoto(data []byte, group string, focus photo.Focus, books []rulebook.Rulebook, out io.Writer) error {
	if !focus.Good() {
		return fmt.Errorf("calc photo: the focus lies outside the photo; give parts from 0 to 1")
	}
	a := photoAnswer{Crops: []photoCrop{}}
	in, img, err := photo.Read(data)
	if a.Info = in; err != nil {
		a.Refused = err.Error()
	} else {
		work := photo.Smaller(img, photo.WorkEdge)
		a.Sharpness = photo.Sharpness(work)
		a.Blurred, a.Hash = a.Sharpness < photo.Blurred, fmt.Sprintf("%016x", photo.Hash(work))
		a.Sharpness, _ = strconv.ParseFloat(strconv.FormatFloat(a.Sharpness, 'f', 1, 64), 64)
		for _, b := range books {
			for _, f := range fit.Photos(fit.Photo{Group: group, Size: in.Size, Focus: focus}, b) {
				w := f.Window
				a.Crops = append(a.Crops, photoCrop{b.ID, f.Rule.Label, f.Rule.Crop, [4]int{w.Min.X, w.Min.Y, w.Max.X, w.Max.Y}, append([]string{}, f.Faults...)})
			}
		}
	}
	e := json.NewEncoder(out)
	e.SetEscapeHTML(false)
	e.SetIndent("", "  ")
	return e.Encode(a)
}
