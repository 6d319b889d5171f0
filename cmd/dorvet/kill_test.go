package main

import (
	"bufio"
	"bytes"
	"context"
	"fmt"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/cookiejar"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"dorvet/internal/demo"
)

// running is a server process of its own, which can be killed.
type running struct {
	cmd     *exec.Cmd
	address string
	http    *http.Client
}

func start(t *testing.T, program, data string) *running {
	t.Helper()
	cmd := exec.Command(program, "demo", "--data", data, "--addr", "127.0.0.1:0")
	out, err := cmd.StdoutPipe()
	if err != nil {
		t.Fatal(err)
	}
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	r := &running{cmd: cmd, http: &http.Client{Jar: jar}}
	for lines := bufio.NewScanner(out); lines.Scan(); {
		if _, address, found := strings.Cut(lines.Text(), "serves "); found {
			r.address = address
			break
		}
	}
	go io.Copy(io.Discard, out)
	r.post(t.Context(), "/api/session", `{"mail":"maren@skerrow.example","password":"`+demo.Password+`"}`, "")
	return r
}

// post asks for an act; a server that was killed does not answer, which is fine.
func (r *running) post(ctx context.Context, path, body, key string) {
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, r.address+path, strings.NewReader(body))
	if err != nil {
		return
	}
	request.Header.Set("Content-Type", "application/json")
	request.Header.Set("Idempotency-Key", key)
	if response, err := r.http.Do(request); err == nil {
		io.Copy(io.Discard, response.Body)
		response.Body.Close()
	}
}

// bill makes drafts of everything and issues what it can, until it is killed.
func (r *running) bill(ctx context.Context, round int) {
	r.post(ctx, "/api/drafts", `{"upTo":"2026-11-30","dated":"2026-12-01","engagementIds":[1,2,3,4,5,6,7,8,11]}`, fmt.Sprintf("drafts of round %d", round))
	for id := 14; id < 24; id++ {
		for version := range 3 {
			r.post(ctx, fmt.Sprintf("/api/invoices/%d/issue?version=%d", id, version), "", fmt.Sprintf("issue %d %d %d", round, id, version))
		}
	}
}

// The server is killed without warning while it makes and issues invoices:
// afterwards everything is done or not, nothing is billed twice, no number lost.
func TestAKilledServerLeavesEverythingWhole(t *testing.T) {
	kills := 40
	if testing.Short() {
		kills = 4
	}
	program := filepath.Join(t.TempDir(), "dorvet")
	if out, err := exec.Command("go", "build", "-o", program, ".").CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	fresh := seeded(t)
	random := rand.New(rand.NewPCG(9, 10))
	for round := range kills {
		data := filepath.Join(t.TempDir(), fmt.Sprint(round))
		if err := os.CopyFS(data, os.DirFS(fresh)); err != nil {
			t.Fatal(err)
		}
		server := start(t, program, data)
		ctx, cancel := context.WithCancel(t.Context())
		go server.bill(ctx, round)
		time.Sleep(time.Duration(random.IntN(700)) * time.Millisecond) // the moment of the kill, not a wait
		if err := server.cmd.Process.Kill(); err != nil {
			t.Fatal(err)
		}
		server.cmd.Wait()
		cancel()
		var said bytes.Buffer
		check := exec.Command(program, "check", "--data", data)
		check.Stdout, check.Stderr = &said, &said
		if err := check.Run(); err != nil {
			t.Fatalf("killed in round %d: %v: %s", round, err, said.String())
		}
	}
}
