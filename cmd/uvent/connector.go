package main

import (
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"uvent/conformance"
	"uvent/reach"
)

func connectorCommand() *cobra.Command {
	var password, category string
	var private []string
	check := &cobra.Command{
		Use:   "check URL",
		Short: "Ask a connector all that the protocol asks for, and say what falls short; it lists a business there, and withdraws it",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			ranges, err := prefixes(private)
			if err != nil {
				return err
			}
			authorization, err := firstLineOf(password)
			if err != nil {
				return err
			}
			short := 0
			for _, k := range conformance.Run(c.Context(), reach.New("", "").WithPrivate(ranges), conformance.Options{
				Connector: args[0], Authorization: authorization, Facts: triedFacts(category),
			}) {
				if k.Falls == "" {
					fmt.Fprintf(c.OutOrStdout(), "kept    %s\n", k.Asks)
					continue
				}
				short++
				fmt.Fprintf(c.OutOrStdout(), "short   %s\n        %s\n", k.Asks, k.Falls)
			}
			if short > 0 {
				return errors.New("it falls short of the protocol; see docs/connector.md")
			}
			return nil
		},
	}
	check.Flags().StringVar(&password, "authorization-file", "", "file whose first line is what the request says as Authorization, such as Bearer …; else nothing")
	check.Flags().StringVar(&category, "category", "Bike store", "a category that it has")
	check.Flags().StringSliceVar(
		&private,
		"private-connectors",
		nil,
		"ranges such as 127.0.0.0/8 that are not public in which it may be; else only public addresses are asked",
	)
	c := &cobra.Command{Use: "connector", Short: "Directories' own interfaces; see docs/connector.md"}
	c.AddCommand(check)
	return c
}

// triedFacts are of a business that nobody has, listed to try a connector.
func triedFacts(category string) map[string]any {
	return map[string]any{
		"name": fmt.Sprintf(
			"Curlew & Tern Trial %d",
			time.Now().Unix(),
		),
		"street":      "18 Trial Street",
		"locality":    "Minnow Bay",
		"region":      "WA",
		"postal_code": "98990",
		"country":     "US",
		"phone":       "+13605550142",
		"website":     "https://curlew.example",
		"category":    category,
		"hours":       "Mo-Fr 09:00-17:00",
		"latitude":    48.1,
		"longitude":   -122.6,
	}
}
