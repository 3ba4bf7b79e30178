// Command lampfern plans colour in real materials: it serves the pages on this
// machine and brings lists and plans in. It holds flags and wiring only.
package main

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"github.com/spf13/cobra"

	"lampfern/demo"
	"lampfern/exchange"
	"lampfern/standin"
	"lampfern/store"
	"lampfern/studio"
	"lampfern/web"
)

// version is the program's own; the data folder has its migrations.
const version = "0.1.0"

// stopWithin is how long running requests may take once the program is asked
// to stop.
const stopWithin = 5 * time.Second

func main() {
	slog.SetDefault(slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn})))
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := command().ExecuteContext(ctx); err != nil {
		fmt.Fprintln(os.Stderr, "lampfern: "+err.Error())
		os.Exit(1)
	}
}

func command() *cobra.Command {
	root := &cobra.Command{Use: "lampfern", Short: "Plan colour in real materials", SilenceUsage: true, SilenceErrors: true}
	root.AddCommand(demoCommand(), serveCommand(), importCommand(), readerCommand(),
		&cobra.Command{Use: "version", Short: "Print the version", Args: cobra.NoArgs, Run: func(c *cobra.Command, _ []string) {
			fmt.Fprintln(c.OutOrStdout(), "Lamp Fern "+version)
		}})
	return root
}

func addressFlag(c *cobra.Command, to *string) {
	c.Flags().StringVar(to, "addr", "127.0.0.1:8080", "address to serve on; port 0 takes a free one")
}

func dataFlag(c *cobra.Command, to *string) {
	dir, err := os.UserConfigDir()
	if err != nil {
		dir = "."
	}
	c.Flags().StringVar(to, "data", filepath.Join(dir, "lampfern"), "data folder")
}

func demoCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{Use: "demo", Short: "Serve the demo workroom from a throw-away data folder", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			dir, err := os.MkdirTemp("", "lampfern-demo-*")
			if err != nil {
				return fmt.Errorf("making a temporary data folder: %w", err)
			}
			defer os.RemoveAll(dir)
			listener, err := net.Listen("tcp", "127.0.0.1:0")
			if err != nil {
				return fmt.Errorf("starting the simulated colour reader: %w", err)
			}
			go func() {
				if err := standin.NewReader(readerSeed).Serve(c.Context(), listener); err != nil {
					slog.Error("the simulated colour reader stopped", "err", err)
				}
			}()
			return serve(c, dir, addr, listener.Addr().String(), demo.Load)
		}}
	addressFlag(c, &addr)
	return c
}

func serveCommand() *cobra.Command {
	var dir, addr, reader string
	c := &cobra.Command{Use: "serve", Short: "Serve your own workroom", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error { return serve(c, dir, addr, reader, nil) }}
	c.Flags().StringVar(&reader, "reader", "", "address of a colour reader, such as 127.0.0.1:7070")
	dataFlag(c, &dir)
	addressFlag(c, &addr)
	return c
}

// softMemory is what the program keeps its memory under by collecting more
// often, as long as what it holds allows: reading a photo of 40 megapixels then
// stays below 200 MB.
const softMemory = 140 << 20

// serve opens the data folder, fills it when asked, and serves until the
// context ends.
func serve(c *cobra.Command, dir, addr, reader string, fill func(context.Context, *studio.Studio) error) error {
	debug.SetMemoryLimit(softMemory)
	st, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer st.Close()
	work := studio.New(st)
	work.ReaderAddress = reader
	if fill != nil {
		if err := fill(c.Context(), work); err != nil {
			return fmt.Errorf("filling the workroom: %w", err)
		}
	}
	handler, err := web.New(work)
	if err != nil {
		return err
	}
	listener, err := net.Listen("tcp", addr)
	if err != nil {
		return fmt.Errorf("%s cannot be used (%w): another program may be there already, so choose another with --addr, such as 127.0.0.1:8090", addr, err)
	}
	server := web.HTTPServer(handler)
	fmt.Fprintf(c.OutOrStdout(), "Lamp Fern is open at http://%s\nData folder: %s\nCtrl-C closes it.\n", listener.Addr(), dir)
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-c.Context().Done():
	}
	ctx, cancel := context.WithTimeout(context.Background(), stopWithin)
	defer cancel()
	if err := server.Shutdown(ctx); err != nil && !errors.Is(err, http.ErrServerClosed) {
		return fmt.Errorf("closing: %w", err)
	}
	fmt.Fprintln(c.OutOrStdout(), "Closed. Everything is kept.")
	return nil
}

// readerSeed starts the noise of the simulated reader.
const readerSeed = 1

func readerCommand() *cobra.Command {
	var addr string
	c := &cobra.Command{Use: "reader", Short: "Run the simulated colour reader by itself", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			listener, err := net.Listen("tcp", addr)
			if err != nil {
				return fmt.Errorf("%s cannot be used (%w): choose another with --addr", addr, err)
			}
			fmt.Fprintf(c.OutOrStdout(), "A simulated colour reader answers at %s\nCtrl-C ends it.\n", listener.Addr())
			return standin.NewReader(readerSeed).Serve(c.Context(), listener)
		}}
	c.Flags().StringVar(&addr, "addr", "127.0.0.1:7070", "address to answer on")
	return c
}

func importCommand() *cobra.Command {
	var dir string
	var leaveOut bool
	c := &cobra.Command{Use: "import FILE", Short: "Bring in materials (.csv, .xlsx, CGATS text, design tokens), a whole shelf (.zip) or a plan (.json)", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			st, err := store.Open(dir)
			if err != nil {
				return err
			}
			defer st.Close()
			return importFile(c, studio.New(st), args[0], leaveOut)
		}}
	dataFlag(c, &dir)
	c.Flags().BoolVar(&leaveOut, "leave-out-bad", false, "bring in the good lines even when some are bad")
	return c
}

// importFile brings in a file of whatever kind it is.
func importFile(c *cobra.Command, work *studio.Studio, file string, leaveOut bool) error {
	f, err := os.Open(file)
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w): check its name", file, errors.Unwrap(err))
	}
	defer f.Close()
	name := filepath.Base(file)
	if strings.EqualFold(filepath.Ext(name), ".zip") {
		info, err := f.Stat()
		if err != nil {
			return fmt.Errorf("%s cannot be read (%w)", file, err)
		}
		id, err := work.UploadShelf(c.Context(), name, f, info.Size())
		if err != nil {
			return err
		}
		return importList(c, work, id, leaveOut)
	}
	data, err := io.ReadAll(io.LimitReader(f, exchange.MaxListBytes+1))
	if err != nil {
		return fmt.Errorf("%s cannot be read (%w)", file, err)
	}
	if len(data) > exchange.MaxListBytes {
		return fmt.Errorf("%s is larger than %d MB: split it and bring in the parts one after another", file, exchange.MaxListBytes>>20)
	}
	if exchange.IsPlan(data) {
		return importPlan(c, work, data)
	}
	id, err := work.Upload(c.Context(), name, data)
	if err != nil {
		return err
	}
	return importList(c, work, id, leaveOut)
}

func importList(c *cobra.Command, work *studio.Studio, id uint, leaveOut bool) error {
	p, err := work.Preview(c.Context(), id)
	if err != nil {
		return err
	}
	out := c.OutOrStdout()
	for _, b := range p.Bad {
		fmt.Fprintf(out, "line %d, %s: %s\n", b.Line, b.Text, b.Reason)
	}
	if len(p.Bad) > 0 && !leaveOut {
		return fmt.Errorf("nothing was brought in: %d of %d lines are bad. Mend them, or add --leave-out-bad to bring in the others", len(p.Bad), len(p.Bad)+len(p.Good))
	}
	n, err := work.Confirm(c.Context(), id)
	if err != nil {
		return err
	}
	fmt.Fprintf(out, "%d materials are now on the shelf; %d lines were left out.\n", n, len(p.Bad))
	return nil
}

func importPlan(c *cobra.Command, work *studio.Studio, data []byte) error {
	p, err := exchange.ReadPlan(bytes.NewReader(data))
	if err != nil {
		return err
	}
	id, err := work.ImportPlan(c.Context(), p)
	if err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "%s is now plan %d.\n", p.Name, id)
	return nil
}
