package main

import (
	"fmt"

	"github.com/spf13/cobra"

	"omphalos/store"
)

func backupCommand() *cobra.Command {
	var file string
	c := &cobra.Command{
		Use: "backup TO", Short: "Copy a workspace, which may be served meanwhile, and look the copy through",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			if err := store.Backup(c.Context(), file, args[0]); err != nil {
				return err
			}
			fmt.Fprintln(c.OutOrStdout(), args[0], "is a whole copy of", file)
			return nil
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	return c
}

func restoreCommand() *cobra.Command {
	var file string
	c := &cobra.Command{
		Use: "restore FROM", Short: "Put a copy in the place of a workspace, which is kept beside it",
		Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			before, err := store.Restore(c.Context(), args[0], file)
			if err != nil {
				return err
			}
			fmt.Fprintln(c.OutOrStdout(), file, "is what", args[0], "is")
			if before != "" {
				fmt.Fprintln(c.OutOrStdout(), "What was there before is kept as", before)
			}
			return nil
		},
	}
	c.Flags().StringVar(&file, "workspace", "workspace/omphalos.db", "file of the workspace")
	return c
}
