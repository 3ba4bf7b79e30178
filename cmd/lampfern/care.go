package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"html"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"lampfern/core/words"
	"lampfern/stages"
	"lampfern/store"
	"lampfern/web"
)

// keepWell looks whether the database is whole, makes a backup when one is due, and tidies; it
// looks again every hour.
func keepWell(ctx context.Context, st *store.Store) {
	if err := st.QuickCheck(ctx); err != nil && ctx.Err() == nil {
		slog.Error("the database could not be checked", "err", err)
	}
	for {
		if st.Damaged() {
			slog.Error("the database is damaged: you can look, but nothing is saved")
			return
		}
		due, err := st.BackupDue(time.Now())
		if err == nil && due {
			var r store.Report
			if _, r, err = st.MakeBackup(ctx, time.Now()); err == nil && !r.Good() {
				slog.Warn("the backup is made, but something was already damaged", "wrong", strings.Join(r.Wrong, " "))
			}
			if _, problem := st.SecondPlace(); problem != "" {
				slog.Error(problem)
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

// sealWord is the environment's name of the passphrase of backups, which would be seen by others on the
// command line.
const sealWord = "LAMPFERN_BACKUP_PASSPHRASE"

func secondFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "backup-to", "", "a folder on another disk to copy each backup to; encrypted where "+sealWord+" is set")
}

func backupCommand() *cobra.Command {
	var dir, second string
	c := &cobra.Command{Use: "backup", Short: "Make a backup of a data folder, also while it is served, and check it", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			st, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			if err := st.KeepAlso(store.Second{Dir: second, Passphrase: os.Getenv(sealWord)}); err != nil {
				return err
			}
			b, r, err := st.MakeBackup(c.Context(), time.Now())
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is made and was read back in full: ", b.Name)
			if _, problem := st.SecondPlace(); problem != "" {
				return errors.Join(tell(c, r), errors.New(problem))
			}
			return tell(c, r)
		}}
	secondFlag(c, &second)
	dataFlag(c, &dir)
	return c
}

func restoreCommand() *cobra.Command {
	var dir string
	var check bool
	c := &cobra.Command{Use: "restore BACKUP", Short: "Restore a backup into an empty data folder", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, files []string) error {
			passphrase := ""
			if strings.HasSuffix(files[0], store.SealedTail) {
				if passphrase = os.Getenv(sealWord); passphrase == "" {
					fmt.Fprintln(c.OutOrStdout(), "Type the passphrase of the backup, then Enter:")
					line, _ := bufio.NewReader(c.InOrStdin()).ReadString('\n') // none is refused below
					passphrase = strings.TrimRight(line, "\r\n")
				}
			}
			if check {
				temp, err := os.MkdirTemp("", "lampfern-check-*")
				if err != nil {
					return fmt.Errorf("making a folder to try the backup in: %w", err)
				}
				defer os.RemoveAll(temp)
				dir = filepath.Join(temp, "workroom")
			}
			r, err := store.Restore(c.Context(), files[0], passphrase, dir)
			if err != nil {
				return err
			}
			if check {
				fmt.Fprintf(c.OutOrStdout(), "%s can be restored: ", filepath.Base(files[0]))
				return errors.Join(tell(c, r), drill(c, dir))
			}
			fmt.Fprintf(c.OutOrStdout(), "%s is restored: ", dir)
			return tell(c, r)
		}}
	c.Flags().BoolVar(&check, "check", false, "only try it: restore into a temporary folder, and open every page")
	dataFlag(c, &dir)
	return c
}

func salvageCommand() *cobra.Command {
	var dir, to string
	c := &cobra.Command{Use: "salvage", Short: "Save what can be read of a damaged data folder into another one; the damaged one is not changed",
		Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			if to == "" {
				return errors.New("name an empty folder with --to")
			}
			r, err := store.Salvage(c.Context(), dir, to)
			if err != nil {
				return err
			}
			fmt.Fprintf(c.OutOrStdout(), "What could be read is in %s: ", to)
			return tell(c, r)
		}}
	dataFlag(c, &dir)
	c.Flags().StringVar(&to, "to", "", "folder to save into")
	return c
}

// hrefs are the addresses of this program that a page leads to, each with what it asks.
var hrefs = regexp.MustCompile(`href="((/[^"?#]*)[^"#]*)`)

// drill opens every page of a workroom, as far as one leads to another, and says which did not open.
func drill(c *cobra.Command, dir string) error {
	st, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	handler, err := web.New(desk(st), web.Options{}, stages.Rooms())
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return fmt.Errorf("trying the pages: %w", err)
	}
	server := web.HTTPServer(handler)
	go func() { _ = server.Serve(listener) }() // ends when it is closed
	defer server.Close()
	seen, todo, bad := map[string]bool{"/": true}, []string{"/"}, 0
	for opened := 0; len(todo) > 0; opened++ {
		at := todo[0]
		todo = todo[1:]
		ask, err := http.NewRequestWithContext(c.Context(), http.MethodGet, "http://"+listener.Addr().String()+at, nil)
		if err != nil {
			return fmt.Errorf("trying the pages: %w", err)
		}
		res, err := http.DefaultClient.Do(ask)
		if err != nil {
			return fmt.Errorf("trying the pages: %w", err)
		}
		body, err := io.ReadAll(res.Body)
		res.Body.Close()
		if refused := res.StatusCode == http.StatusUnprocessableEntity; err != nil || res.StatusCode >= http.StatusBadRequest && !refused {
			bad++
			fmt.Fprintf(c.OutOrStdout(), "%s does not open (%d).\n", at, res.StatusCode)
		}
		if !strings.HasPrefix(res.Header.Get("Content-Type"), "text/html") {
			continue
		}
		for _, m := range hrefs.FindAllStringSubmatch(string(body), -1) {
			if page := html.UnescapeString(m[2]); !seen[page] && page != "/view" && !strings.HasPrefix(page, "/static/") {
				seen[page] = true
				todo = append(todo, html.UnescapeString(m[1]))
			}
		}
	}
	if bad > 0 {
		return fmt.Errorf("%s of %d did not open: keep this backup, and take an older one too", words.Plural(bad, "page", "pages"), len(seen))
	}
	fmt.Fprintf(c.OutOrStdout(), "All of its %d pages open.\n", len(seen))
	return nil
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
