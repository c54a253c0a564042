package main

import (
	"github.com/spf13/cobra"

	"axtren/core/setup"
)

func schemaCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "schema",
		Short: "Print the JSON Schema of a setup document",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			_, err := cmd.OutOrStdout().Write(setup.Schema())
			return err
		},
	}
}
