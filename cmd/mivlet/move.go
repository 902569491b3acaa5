package main

import (
	"cmp"
	"errors"
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/store/datafolder"
)

// moveCommand carries a house to where it is kept from now on.
func moveCommand() *cobra.Command {
	var to datafolder.Storage
	back := false
	cmd := onFolder("move", "Carry a house to PostgreSQL and object storage, or back into its data folder", 0, func(cmd *cobra.Command, data string, _ []string) error {
		switch {
		case back && to.Elsewhere():
			return usage{errors.New("say where the house goes, or that it comes --back, and not both")}
		case !back && !to.Elsewhere():
			return usage{errors.New("say where the house goes, with --records or --files, or that it comes --back")}
		}
		is, err := datafolder.ReadStorage(data)
		if err != nil {
			return err
		}
		if !back { // what is not named stays where it is
			to.Records.Postgres = cmp.Or(to.Records.Postgres, is.Records.Postgres)
			if to.Records.Postgres != "" {
				to.Records.House = cmp.Or(to.Records.House, is.Records.House, "house")
			}
			if to.Files.S3 == "" {
				to.Files = is.Files
			}
		}
		if err := to.Check(); err != nil {
			return usage{err}
		}
		trustRoots()
		last := time.Now()
		moved, err := datafolder.Move(cmd.Context(), data, to, time.Now(), func(step string, n int64) {
			if time.Since(last) > 2*time.Second {
				last = time.Now()
				fmt.Fprintf(cmd.ErrOrStderr(), "%d %s so far\n", n, step)
			}
		})
		if moved.Rows+int64(moved.Files) > 0 && err == nil {
			fmt.Fprintf(cmd.OutOrStdout(), "The house was carried over: %d records, and %d files, %s. It is noted in %s.\n", moved.Rows, moved.Files, fit.Weight(moved.Bytes), datafolder.StorageName)
		}
		for _, left := range moved.Left {
			fmt.Fprintf(cmd.OutOrStdout(), "Left where it was, and no longer used: %s\n", left)
		}
		if len(moved.Left) > 0 {
			fmt.Fprintln(cmd.OutOrStdout(), "Delete that when you have looked at the house: what is erased from now on is not erased there.")
		}
		return err
	})
	cmd.Flags().StringVar(&to.Records.Postgres, "records", "", "address of the database that keeps the records, such as postgres://mivlet@db.club.example/mivlet")
	cmd.Flags().StringVar(&to.Records.House, "house", "", "name of the house in the database (default house)")
	cmd.Flags().StringVar(&to.Files.S3, "files", "", "address of the bucket that keeps the files, with a name for the house, such as https://s3.example/mivlet/paddle")
	cmd.Flags().StringVar(&to.Files.Region, "files-region", "", "region of the bucket (default: the service is asked)")
	cmd.Flags().StringVar(&to.Files.Login, "files-login", "", "name of the access key, for a bucket")
	cmd.Flags().StringVar(&to.Files.SecretFile, "files-secret-file", "", "file of the secret key, for a bucket")
	cmd.Flags().BoolVar(&back, "back", false, "carry everything back into the data folder")
	return cmd
}
