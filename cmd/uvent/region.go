package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/spf13/cobra"

	"uvent/core/fact/extract"
	"uvent/desk/people"
	"uvent/desk/records"
)

func regionCommand() *cobra.Command {
	c := &cobra.Command{Use: "region", Short: "Stretches of country whose roads and towns are known"}
	c.AddCommand(regionAdd(), regionList(), regionDrop())
	return c
}

// regionAdd makes a region of an extract of OpenStreetMap, or takes one in GeoJSON.
func regionAdd() *cobra.Command {
	var data database
	var name string
	c := &cobra.Command{
		Use:   "add FILE",
		Short: "Bring a region in: an extract of OpenStreetMap (.osm, .osm.pbf), or GeoJSON",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if name == "" {
				name = bareName(args[0])
			}
			return data.with(c.Context(), func(a *app) error {
				r, err := a.addRegion(c, name, args[0])
				if err != nil {
					return inFull(err)
				}
				fmt.Fprintf(c.OutOrStdout(), "%s is in: %d towns, %d stretches of road.\n", r.Name, r.Towns, r.Roads)
				if r.Unknown > 0 {
					fmt.Fprintf(c.OutOrStdout(), "Of %d of the towns it is not said how many live there; they count as nobody.\n", r.Unknown)
				}
				return nil
			})
		},
	}
	data.flags(c)
	c.Flags().StringVar(&name, "name", "", "its name; otherwise the file's")
	return c
}

// bareName is a file's name without its folder and kind.
func bareName(path string) string {
	name := filepath.Base(path)
	for _, kind := range []string{".pbf", ".osm", ".geojson", ".json"} {
		name = strings.TrimSuffix(name, kind)
	}
	return name
}

func (a *app) addRegion(c *cobra.Command, name, path string) (r records.Region, err error) {
	if strings.HasSuffix(path, "json") {
		text, err := os.ReadFile(path)
		if err != nil {
			return r, err
		}
		return a.desk.Records.AddRegion(c.Context(), people.Uvent, name, string(text))
	}
	file, err := os.Open(path)
	if err != nil {
		return r, err
	}
	defer file.Close()
	about, err := file.Stat()
	if err != nil {
		return r, err
	}
	said := -1
	made, err := extract.Read(c.Context(), file, about.Size(), func(part float64) {
		if now := int(10 * part); now > said {
			said = now
			fmt.Fprintf(c.ErrOrStderr(), "%3d %% read\n", 10*now)
		}
	})
	if err != nil {
		return r, err
	}
	return a.desk.Records.AddMade(c.Context(), people.Uvent, name, made)
}

func regionList() *cobra.Command {
	var data database
	c := &cobra.Command{
		Use:   "list",
		Short: "The regions that are known",
		Args:  cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			return data.with(c.Context(), func(a *app) error {
				list, err := a.desk.Records.Regions(c.Context())
				for _, r := range list {
					fmt.Fprintf(c.OutOrStdout(), "%s\t%d towns\t%d stretches of road\t%s\n", r.Name, r.Towns, r.Roads, strings.TrimSpace(r.State+" "+r.Trouble))
				}
				return err
			})
		},
	}
	data.flags(c)
	return c
}

func regionDrop() *cobra.Command {
	var data database
	c := &cobra.Command{
		Use:   "drop NAME",
		Short: "Take a region out; service areas that were reckoned with it stay",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			return data.with(c.Context(), func(a *app) error {
				list, err := a.desk.Records.Regions(c.Context())
				if err != nil {
					return err
				}
				for _, r := range list {
					if strings.EqualFold(r.Name, args[0]) {
						return inFull(a.desk.Records.DropRegion(c.Context(), people.Uvent, r.ID))
					}
				}
				return fmt.Errorf("there is no region %q", args[0])
			})
		},
	}
	data.flags(c)
	return c
}
