package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"omphalos/web/api"
)

func describeCommand() *cobra.Command {
	var older bool
	var to string
	c := &cobra.Command{
		Use: "describe", Short: "Write the description of the interface for other systems (OpenAPI)", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			newer, old, err := api.Description()
			if err != nil {
				return err
			}
			if older {
				newer = old
			}
			var indented bytes.Buffer
			if err := json.Indent(&indented, newer, "", "  "); err != nil {
				return fmt.Errorf("writing the description: %w", err)
			}
			indented.WriteByte('\n')
			if to != "" {
				return os.WriteFile(to, indented.Bytes(), 0o644)
			}
			_, err = c.OutOrStdout().Write(indented.Bytes())
			return err
		},
	}
	c.Flags().BoolVar(&older, "older", false, "in OpenAPI 3.0, for programs that read no 3.1")
	c.Flags().StringVar(&to, "to", "", "file that it is written to, instead of the standard output")
	return c
}
