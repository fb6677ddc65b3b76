package source

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"copperlark/core/summary"
)

// engine starts the columnar engine with two shards, where it is installed, and gives how statements are run and a source.
func engine(t *testing.T) (run func(statement string) string, of func(tables ...NamedTable) *Columnar) {
	t.Helper()
	program, err := exec.LookPath("clickhouse-server")
	if err != nil {
		t.Skip("the columnar engine is not installed: its client is held against recorded answers alone")
	}
	folder := t.TempDir()
	ports := make([]int, 3)
	for i := range ports {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		if err != nil {
			t.Fatal(err)
		}
		ports[i] = l.Addr().(*net.TCPAddr).Port
		_ = l.Close() // free, and not likely taken at once
	}
	shard := func(n int) string {
		return fmt.Sprintf(`<shard><replica><host>127.0.0.1</host><port>%d</port>
			<default_database>shard_%d</default_database></replica></shard>`, ports[1], n)
	}
	for name, content := range map[string]string{
		"config.xml": fmt.Sprintf(`<yandex><logger><level>none</level></logger><http_port>%d</http_port><tcp_port>%d</tcp_port>
			<interserver_http_port>%d</interserver_http_port><listen_host>127.0.0.1</listen_host><path>%s/data/</path><tmp_path>%s/tmp/</tmp_path>
			<users_config>%s/users.xml</users_config><default_profile>default</default_profile><default_database>default</default_database>
			<mark_cache_size>5368709120</mark_cache_size><remote_servers><two>%s%s</two></remote_servers></yandex>`,
			ports[0], ports[1], ports[2], folder, folder, folder, shard(0), shard(1)),
		"users.xml": `<yandex><profiles><default/></profiles><quotas><default/></quotas><users>
			<default><password></password><networks><ip>127.0.0.1</ip></networks><profile>default</profile><quota>default</quota></default>
			<reader><password>two dry summers</password><networks><ip>127.0.0.1</ip></networks><profile>default</profile><quota>default</quota>
			<allow_databases><database>valley</database><database>shard_0</database><database>shard_1</database></allow_databases></reader>
			</users></yandex>`,
	} {
		if err := os.WriteFile(filepath.Join(folder, name), []byte(content), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	server := exec.CommandContext(t.Context(), program, "--config-file="+filepath.Join(folder, "config.xml"))
	server.Dir = folder
	return started(t, server, fmt.Sprintf("127.0.0.1:%d", ports[0]))
}

// started waits until the engine answers.
func started(t *testing.T, server *exec.Cmd, host string) (func(string) string, func(...NamedTable) *Columnar) {
	t.Helper()
	client := &http.Client{Timeout: 20 * time.Second}
	ask := func(statement string) (string, error) {
		answer, err := client.Post("http://"+host+"/", "text/plain", strings.NewReader(statement))
		if err != nil {
			return "", err
		}
		defer func() { _ = answer.Body.Close() }()
		said, err := io.ReadAll(answer.Body)
		if answer.StatusCode != http.StatusOK {
			err = errors.Join(err, fmt.Errorf("%s: %s", statement, said))
		}
		return string(said), err
	}
	if err := server.Start(); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = server.Wait() })
	ready := false
	for tries := 0; !ready && tries < 200; tries++ {
		_, err := ask("select 1")
		if ready = err == nil; !ready {
			time.Sleep(100 * time.Millisecond)
		}
	}
	if !ready {
		t.Fatal("the columnar engine does not answer")
	}
	run := func(statement string) string {
		t.Helper()
		said, err := ask(statement)
		if err != nil {
			t.Fatal(err)
		}
		return said
	}
	return run, func(tables ...NamedTable) *Columnar {
		c, err := NewColumnar(Named{Name: "Scales", Address: "http://reader:two%20dry%20summers@" + host + "/valley", Tables: tables})
		if err != nil {
			t.Fatal(err)
		}
		t.Cleanup(c.Close)
		return c
	}
}

// TestTheColumnarEngineAnswersAsTheCoreDoes over two shards, and refuses where one of them does not answer.
func TestTheColumnarEngineAnswersAsTheCoreDoes(t *testing.T) {
	run, of := engine(t)
	run("create database valley")
	for shard := range 2 {
		run(fmt.Sprintf("create database shard_%d", shard))
		run(fmt.Sprintf(`create table shard_%d.odd (id UInt64, district Nullable(String), metres Nullable(Float64), load Float64,
			way Int32, fed UInt8, day Nullable(Date), kg Decimal(9, 1), qx String, at Array(UInt8)) engine = MergeTree order by id`, shard))
		run(fmt.Sprintf(`insert into shard_%[1]d.odd select number * 2 + %[1]d as i,
			['Tarn', 'Brindle', 'Low Fen', '', NULL, '蜜蜂', 'it\'s "so"\\n'][1 + i %% 7],
			multiIf(i %% 23 = 0, NULL, i %% 23 = 1, nan, i %% 23 = 2, inf, i %% 23 = 3, -inf, i %% 23 = 4, 0, i %% 23 = 5, -toFloat64(i),
				exp(sin(i) * 4) * 100),
			1e6 + cos(i * 7) * 10 + if(i %% 7 < 3, i %% 7, 0), toInt32(i %% 3) - 1, i %% 2, if(i %% 11 = 1, NULL, toDate('2030-01-01') + i %% 400),
			toDecimal32(i %% 50, 1) / 10, 'hidden', [1] from numbers(1500)`, shard))
	}
	run("create table valley.odd as shard_0.odd engine = Distributed(two, '', odd)")
	run("create table default.secret (a UInt8) engine = Memory")
	c := of(NamedTable{Name: "valley.odd", Key: "id"}, NamedTable{Name: "default.secret"}, NamedTable{Name: "valley.gone"})
	tables, err := c.Describe(t.Context())
	if err != nil || tables[0].Rows != 3000 || tables[0].Columns != 9 || tables[1].Trouble == "" ||
		!strings.Contains(tables[2].Trouble, "no table") {
		t.Fatalf("%v, %+v", err, tables)
	}
	s, err := c.Begin(t.Context(), "valley.odd")
	if err != nil {
		t.Fatal(err)
	}
	rows, err := s.Rows(t.Context(), Draw{Rows: 10_000, Cells: 1e8})
	if err != nil || !rows.All || rows.Table.Rows() != 3000 ||
		!strings.Contains(strings.Join(rows.Notes, "; "), "at: the column holds Array") {
		t.Fatalf("%v, %+v", err, rows)
	}
	some, err := s.Rows(t.Context(), Draw{Rows: 500, Seed: 7, Cells: 1e8})
	again, err2 := s.Rows(t.Context(), Draw{Rows: 500, Seed: 7, Cells: 1e8})
	if err != nil || err2 != nil || some.Table.Rows() != 500 || some.All ||
		values(some.Table.Columns()[0]) != values(again.Table.Columns()[0]) {
		t.Errorf("%v, %v, %+v", err, err2, some)
	}
	for name, q := range questions() {
		if name == "yes and no" || strings.Contains(name, "fed and") || name == "worked out" || name == "reasons" {
			continue // there are no yes and no in this engine
		}
		want, err := summary.Of(t.Context(), rows.Table, q)
		if err != nil {
			t.Fatal(name, err)
		}
		got, err := s.Groups(t.Context(), q, func(int, int) {})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		if wrong := differs(got.Answer, want); wrong != "" {
			t.Errorf("%s: %s\n%s", name, wrong, got.Statement)
		}
	}
	run("rename table shard_1.odd to shard_1.away")
	_, err = s.Groups(t.Context(), &summary.Question{}, func(int, int) {})
	if err == nil || !strings.Contains(err.Error(), "cannot be reached") {
		t.Errorf("a shard without the table: %v", err)
	}
	ctx, leave := context.WithCancel(t.Context())
	time.AfterFunc(200*time.Millisecond, leave)
	if err := c.ask(ctx, "select sleep(1) from numbers(9) settings max_block_size = 1", func([]string) error { return nil }); err == nil {
		t.Error("who left has an answer")
	}
	busy := "1"
	for tries := 0; busy != "0" && tries < 100; tries++ {
		time.Sleep(50 * time.Millisecond)
		busy = strings.TrimSpace(run(`select count() from system.processes where query like '%sleep(1)%' and query not like '%processes%'`))
	}
	if busy != "0" {
		t.Errorf("%s questions still run", busy)
	}
}

// TestHostileTextsEndNowhereButAtTheirEnd in a language without parameters.
func TestHostileTextsEndNowhereButAtTheirEnd(t *testing.T) {
	for _, text := range []string{"Tarn", `it's`, `\`, `\'; drop table x; --`, "a`b", "\x00\n\t", `蜜蜂 "`, `\\'`} {
		written := literal(text)
		inside := written[1 : len(written)-1]
		for i := 0; i < len(inside); i++ {
			if inside[i] == '\\' {
				i++
				continue
			}
			if inside[i] == '\'' || inside[i] == '\n' || inside[i] == 0 {
				t.Errorf("%q ends within: %s", text, written)
			}
		}
		if got := unescaped(inside); got != text {
			t.Errorf("%q is read back as %q", text, got)
		}
	}
}

// TestTheClientOfTheColumnarEngine holds it against answers as the engine gave them: refusals in words, one shard that does
// not answer, an answer that breaks off, another host to go to.
func TestTheClientOfTheColumnarEngine(t *testing.T) {
	answers := map[string]string{}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		statement, _ := io.ReadAll(r.Body)
		if user, password, _ := r.BasicAuth(); user != "reader" || password != "zzpassword" || r.URL.Query().Get("readonly") != "2" ||
			r.URL.Query().Get("skip_unavailable_shards") != "0" {
			t.Errorf("asked as %s, %s", user, r.URL.RawQuery)
		}
		for begins, answer := range answers {
			if strings.HasPrefix(string(statement), begins) {
				if strings.HasPrefix(answer, "Code") {
					w.WriteHeader(http.StatusInternalServerError)
				}
				_, _ = io.WriteString(w, answer)
				if strings.HasSuffix(answer, "…") {
					panic(http.ErrAbortHandler)
				}
				return
			}
		}
	}))
	defer server.Close()
	c, err := NewColumnar(Named{Name: "Scales", Address: strings.Replace(server.URL, "://", "://reader:zzpassword@", 1) + "/valley",
		Tables: []NamedTable{{Name: "valley.odd"}}})
	if err != nil {
		t.Fatal(err)
	}
	for words, said := range map[string]map[string]string{
		"let the program in":    {"select engine": "Code: 193, e.displayText() = DB::Exception: zzsecret"},
		"no table of this name": {},
		"refuses (999)":         {"select engine": "Code: 999, e.displayText() = DB::Exception: zzsecret"},
		"only 1 of 2 servers": {"select engine": "Distributed\tDistributed(two, '', odd)\n",
			"select name": "id\tUInt64\t\n", "select uniq": "2\n", "select count() from cluster": "1\n"},
		"cannot be reached": {"select engine": "Memory\tMemo…"},
		"another name": {"select engine": "Memory\tMemory\n", "select name": "id\tUInt64\t\n",
			"select count": "Code: 47, e.displayText() = zz"},
		"took longer than it may": {"select engine": "Memory\tMemory\n", "select name": "Code: 159, e.displayText() = zz"},
	} {
		answers = said
		_, err := c.Begin(t.Context(), "valley.odd")
		var trouble *Trouble
		if !errors.As(err, &trouble) || !strings.Contains(trouble.Problem, words) || strings.Contains(err.Error(), "zz") {
			t.Errorf("%v, want %s", err, words)
		}
	}
}
