package main

import (
	"errors"
	"fmt"
	"os"
	"os/user"
	"time"

	"github.com/spf13/cobra"

	"mivlet/core/fit"
	"mivlet/desk"
	"mivlet/store/datafolder"
)

// keepCommands are what whoever runs the machine does with a data folder.
func keepCommands() []*cobra.Command {
	return []*cobra.Command{
		onFolder("backup TO", "Copy a data folder, also while Mivlet works on it", 1, func(cmd *cobra.Command, data string, args []string) error {
			copied, err := datafolder.Backup(data, args[0], "on the machine: "+account(), time.Now())
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "%s holds a copy: the records and %d files, %s\n", args[0], copied.Files, fit.Weight(copied.Bytes))
			}
			return err
		}),
		restoreCommand(),
		backupsCommand(),
		onFolder("verify", "Check that everything in a data folder is whole and traceable", 0, verify),
		moveCommand(),
		onFolder("export FILE", "Write all of a house into one archive: its records as JSON, its files, its live pages", 1, export),
		onFolder("import FILE", "Make a house of an export, in an empty data folder", 1, func(cmd *cobra.Command, data string, args []string) error {
			e, err := datafolder.Import(args[0], data)
			if err == nil {
				fmt.Fprintf(cmd.OutOrStdout(), "%s holds %s, as it was on %s: %d files, %s\n", data, e.House, e.At.Format(time.RFC1123), e.Files, fit.Weight(e.Bytes))
			}
			return err
		}),
		eraseCommand(),
		housesCommand(),
		onFolder("recover LOGIN", "Give a keeper who forgot the password a new one", 1, recoverKeeper),
	}
}

func restoreCommand() *cobra.Command {
	var b backing
	id := ""
	cmd := onFolder("restore FROM", "Fill an empty data folder from a backup", 1, func(cmd *cobra.Command, data string, args []string) error {
		b.to = args[0]
		copied, err := b.restore(cmd.Context(), data, id)
		if err == nil {
			fmt.Fprintf(cmd.OutOrStdout(), "%s is as it was in the backup: the records and %d files, %s\n", data, copied.Files, fit.Weight(copied.Bytes))
			fmt.Fprintln(cmd.OutOrStdout(), "What was erased after that backup was written may be in it again: erase it once more.")
			if !b.byHand(id) {
				fmt.Fprintln(cmd.OutOrStdout(), "Mivlet erases in these backups, too, within minutes: only what was erased just before the house was lost can be meant.")
			}
		}
		return err
	})
	cmd.Flags().StringVar(&id, "backup", "", "which of the backups in FROM, as 'mivlet backups' lists them (default the newest)")
	b.signIn(cmd)
	return cmd
}

// onFolder is a command on a data folder.
func onFolder(use, short string, args int, do func(cmd *cobra.Command, data string, args []string) error) *cobra.Command {
	var data string
	cmd := &cobra.Command{Use: use, Short: short, Args: usageArgs(cobra.ExactArgs(args)),
		RunE: func(cmd *cobra.Command, args []string) error {
			if data == "" {
				return usage{errors.New("give --data DIR, the folder where everything is kept")}
			}
			return do(cmd, data, args)
		}}
	cmd.Flags().StringVar(&data, "data", "", "folder where everything is kept")
	return cmd
}

// sweepTime is how long after its making a file that no record names is taken for left
// over: the daily sweep has had its turn.
const sweepTime = 49 * time.Hour

func verify(cmd *cobra.Command, data string, _ []string) error {
	report, err := datafolder.Verify(data, sweepTime)
	if err != nil {
		return err
	}
	for _, f := range report.Faults {
		fmt.Fprintln(cmd.ErrOrStderr(), f)
	}
	fmt.Fprintf(cmd.OutOrStdout(), "%d files, %s; %d of them published; %d waiting to be named or swept; %d faults\n", report.Files, fit.Weight(report.Bytes), report.Published, report.Waiting, len(report.Faults))
	if len(report.Faults) > 0 {
		return errFailed
	}
	return nil
}

func recoverKeeper(cmd *cobra.Command, data string, args []string) (err error) {
	trustRoots()
	kept, err := datafolder.OpenBeside(data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	d, err := desk.New(&kept.Store, desk.Options{})
	if err != nil {
		return err
	}
	password, err := d.People.Recover(args[0])
	if err != nil {
		return err
	}
	fmt.Fprintf(cmd.OutOrStdout(), "The new password of %s is %s\nAll of their sessions have ended. Change it under “Your account”.\n", args[0], password)
	return nil
}

// account is who runs the program, as the system knows them.
func account() string {
	if u, err := user.Current(); err == nil {
		return u.Username
	}
	return fmt.Sprint(os.Getuid())
}
