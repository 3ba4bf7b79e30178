package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"lampfern/core/words"
	"lampfern/store"
)

// keepWell looks whether the database is whole, makes a backup when one is due, and tidies; it
// looks again every hour.
func keepWell(ctx context.Context, st *store.Store) {
	if err := st.QuickCheck(ctx); err != nil && ctx.Err() == nil {
		slog.Error("the database could not be checked", "err", err)
	}
	for {
		if st.Damaged() {
			slog.Error("the database is damaged: it can be looked at, and nothing more is written to it")
			return
		}
		due, err := st.BackupDue(time.Now())
		if err == nil && due {
			var r store.Report
			if _, r, err = st.MakeBackup(ctx, time.Now()); err == nil && !r.Good() {
				slog.Warn("the backup is made, but something was damaged before", "wrong", strings.Join(r.Wrong, " "))
			}
		}
		if err != nil && ctx.Err() == nil {
			slog.Error("the daily backup could not be made", "err", err)
		}
		if err := st.Upkeep(ctx, time.Now()); err != nil && ctx.Err() == nil {
			slog.Error("the workroom could not be tidied", "err", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(time.Hour):
		}
	}
}

func backupCommand() *cobra.Command {
	var dir string
	c := &cobra.Command{Use: "backup", Short: "Make a backup of a data folder, also while it is served, and check it", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			b, r, err := st.MakeBackup(c.Context(), time.Now())
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is made and was read back whole: ", b.Name)
			return tell(c, r)
		}}
	dataFlag(c, &dir)
	return c
}

func restoreCommand() *cobra.Command {
	var dir string
	c := &cobra.Command{Use: "restore BACKUP.zip", Short: "Lay a backup into a data folder in which nothing is", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, files []string) error {
			r, err := store.Restore(c.Context(), files[0], dir)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is restored: ", dir)
			return tell(c, r)
		}}
	dataFlag(c, &dir)
	return c
}

func salvageCommand() *cobra.Command {
	var dir, to string
	c := &cobra.Command{Use: "salvage", Short: "Save what can be read of a damaged data folder into another; the damaged one is only read",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if to == "" {
				return errors.New("say with --to into which folder: one in which nothing is")
			}
			r, err := store.Salvage(c.Context(), dir, to)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "What could be read lies in %s: ", to)
			return tell(c, r)
		}}
	dataFlag(c, &dir)
	c.Flags().StringVar(&to, "to", "", "folder to save into")
	return c
}

// tell writes what a data folder or a backup holds, and what is wrong with it.
func tell(c *cobra.Command, r store.Report) error {
	fmt.Fprintf(c.OutOrStdout(), "%s, %s, %s, %s.\n", words.Plural(r.Materials, "material", "materials"),
		words.Plural(r.Plans, "plan", "plans"), words.Plural(r.Photos, "photo", "photos"), words.Plural(r.Models, "mesh", "meshes"))
	for _, w := range r.Wrong {
		fmt.Fprintln(c.OutOrStdout(), w)
	}
	return nil
}
