package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"dorvet/internal/api"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"

	"github.com/spf13/cobra"
)

// redrawn is how many documents a check draws again unless it is told otherwise.
const redrawn = 100

func checkCommand(set *settings) *cobra.Command {
	most := redrawn
	c := &cobra.Command{Use: "check", Short: "Prove that the data adds up; each breach is a line, and the exit status 1",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return onData(cmd, set, func(data *store.Store) error { return prove(cmd, data, most) })
		}}
	c.Flags().IntVar(&most, "redraw", most, "how many of the newest documents to draw again and compare")
	return c
}

func prove(cmd *cobra.Command, data *store.Store, most int) error {
	breaches, err := data.CheckTold(data.Read(cmd.Context(), store.Everything), func(done, of int, what string) {
		cmd.PrintErrf("%d of %d: %s\n", done, of, what)
	})
	if err != nil {
		return err
	}
	a := newApp(app.WallClock{Store: data})
	a.Store = data
	drawn, differing, err := papers.VerifyRendering(cmd.Context(), &a, most)
	if err != nil {
		return err
	}
	breaches = append(breaches, differing...)
	for _, breach := range breaches {
		cmd.Println(breach)
	}
	if len(breaches) > 0 {
		return fmt.Errorf("%d breaches", len(breaches))
	}
	cmd.Printf("Everything adds up.\n%d documents that were drawn again are the same.\n", drawn)
	return nil
}

func rebuildCommand(set *settings) *cobra.Command {
	return &cobra.Command{Use: "rebuild", Short: "Make the sums that are kept anew from what they sum up, while people work",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return onData(cmd, set, func(data *store.Store) error {
				return data.Rebuild(cmd.Context(), func(what string) { cmd.Println("Made anew:", what) })
			})
		}}
}

// onData does something with the data that is there, and closes it.
func onData(cmd *cobra.Command, set *settings, do func(*store.Store) error) (err error) {
	data, err := openExisting(cmd.Context(), set.Data)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, data.Close()) }()
	return do(data)
}

func openExisting(ctx context.Context, folder string) (*store.Store, error) {
	if _, err := os.Stat(filepath.Join(folder, "dorvet.db")); err != nil {
		return nil, fmt.Errorf("there is no data in %s: name its folder with --data or DORVET_DATA", folder)
	}
	return store.Open(ctx, folder)
}

func backupCommand(set *settings) *cobra.Command {
	return &cobra.Command{Use: "backup FILE.zip", Short: "Write database and files into one archive, while people work",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			if _, err := os.Stat(args[0]); err == nil {
				return fmt.Errorf("%s exists: give a new name, so that no backup is overwritten", args[0])
			}
			return onData(cmd, set, func(data *store.Store) error {
				files, err := data.Backup(cmd.Context(), args[0])
				if err == nil {
					cmd.Printf("Wrote the database and %d files to %s, and read them again: each is what it was.\n", files, args[0])
				}
				return err
			})
		}}
}

func restoreCommand(set *settings) *cobra.Command {
	return &cobra.Command{Use: "restore FILE.zip", Short: "Unpack a backup into the folder of the data, which must be new or empty",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			data, err := store.Restore(cmd.Context(), args[0], set.Data)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, data.Close()) }()
			return prove(cmd, data, redrawn)
		}}
}

func openapiCommand() *cobra.Command {
	return &cobra.Command{Use: "openapi", Short: "Print the contract of the interface (OpenAPI 3.1)", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			contract, err := api.Contract(version())
			if err == nil {
				cmd.Println(string(contract))
			}
			return err
		}}
}
