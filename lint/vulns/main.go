// Command vulns lays the reports of the module golang.org/x/vulndb out as the database that govulncheck reads
// (https://go.dev/doc/security/vuln/database): go run ./lint/vulns REPORTS DATABASE.
package main

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
)

type report struct {
	ID       string `json:"id"`
	Modified string `json:"modified"`
	Affected []struct {
		Package struct {
			Name string `json:"name"`
		} `json:"package"`
		Ranges []struct {
			Events []struct {
				Fixed string `json:"fixed"`
			} `json:"events"`
		} `json:"ranges"`
	} `json:"affected"`
}

type listed struct {
	ID       string `json:"id"`
	Modified string `json:"modified"`
	Fixed    string `json:"fixed,omitempty"`
}

type module struct {
	Path  string   `json:"path"`
	Vulns []listed `json:"vulns"`
}

func main() {
	if err := lay(os.Args[1], os.Args[2]); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// lay writes the index and a file for each report.
func lay(reports, to string) error {
	files, err := filepath.Glob(filepath.Join(reports, "*.json"))
	if err != nil || len(files) == 0 {
		return fmt.Errorf("%s holds no reports", reports)
	}
	for _, folder := range []string{"index", "ID"} {
		if err := os.MkdirAll(filepath.Join(to, folder), 0o755); err != nil {
			return err
		}
	}
	modules, newest := map[string]*module{}, ""
	for _, name := range files {
		data, err := os.ReadFile(name)
		if err != nil {
			return err
		}
		var r report
		if err := json.Unmarshal(data, &r); err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if err := os.WriteFile(filepath.Join(to, "ID", r.ID+".json"), data, 0o644); err != nil {
			return err
		}
		newest = max(newest, r.Modified)
		for _, a := range r.Affected {
			m := modules[a.Package.Name]
			if m == nil {
				m = &module{Path: a.Package.Name}
				modules[m.Path] = m
			}
			one := listed{ID: r.ID, Modified: r.Modified}
			for _, in := range a.Ranges {
				for _, e := range in.Events {
					one.Fixed = max(one.Fixed, e.Fixed)
				}
			}
			m.Vulns = append(m.Vulns, one)
		}
	}
	var all []*module
	for _, m := range modules {
		all = append(all, m)
	}
	for name, v := range map[string]any{"modules.json": all, "db.json": map[string]string{"modified": newest}} {
		data, err := json.Marshal(v)
		if err != nil {
			return err
		}
		if err := os.WriteFile(filepath.Join(to, "index", name), data, 0o644); err != nil {
			return err
		}
	}
	return nil
}
