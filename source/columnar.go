package source

import (
	"bufio"
	"context"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"math"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"time"

	"copperlark/core/parallel"
)

// Columnar is a source that speaks the columnar engine's HTTP: one server, or a distributed table over shards. It has no
// transactions: rows that come meanwhile may count in one question and not in the next.
type Columnar struct {
	named    Named
	base     url.URL
	user     *url.Userinfo
	database string
	client   *http.Client
}

// NewColumnar makes a source; it connects when it is first asked.
func NewColumnar(named Named) (*Columnar, error) {
	at, err := url.Parse(named.Address)
	if err != nil || at.Host == "" {
		return nil, fmt.Errorf("source %s: its address cannot be read", named.Name) // it may hold a password: it is not said
	}
	c := &Columnar{named: named, base: url.URL{Scheme: at.Scheme, Host: at.Host, Path: "/"}, user: at.User,
		database: strings.Trim(at.Path, "/")}
	c.client = &http.Client{
		Transport: &http.Transport{DialContext: (&net.Dialer{Timeout: connectPatience}).DialContext, MaxIdleConnsPerHost: mostConnections,
			MaxConnsPerHost: mostConnections, ResponseHeaderTimeout: rowsPatience},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	return c, nil
}

// Name implements Source.
func (c *Columnar) Name() string { return c.named.Name }

// Close ends its connections.
func (c *Columnar) Close() { c.client.CloseIdleConnections() }

// engineFault is what the engine says when it refuses; its words are not shown, as they hold the statement.
type engineFault struct{ code int }

func (e *engineFault) Error() string { return fmt.Sprintf("the engine refuses (%d)", e.code) }

var faultCode = regexp.MustCompile(`^Code: (\d+)`)

// ask gives the rows of a statement, each as its values between tabs. Answers of a part are errors: a shard that is away is
// not passed over, and nothing comes before all is there.
func (c *Columnar) ask(ctx context.Context, statement string, row func(values []string) error) error {
	var id [12]byte
	_, _ = rand.Read(id[:])
	query := hex.EncodeToString(id[:])
	settings := url.Values{"readonly": {"2"}, "skip_unavailable_shards": {"0"}, "wait_end_of_query": {"1"}, "query_id": {query},
		"max_execution_time": {strconv.Itoa(int(rowsPatience.Seconds()))}, "database": {c.database}}
	answer, err := c.post(ctx, settings, statement+" format TabSeparated")
	if err != nil {
		if ctx.Err() != nil {
			c.kill(query)
		}
		return err
	}
	defer func() { _ = answer.Body.Close() }()
	lines := bufio.NewReaderSize(answer.Body, 1<<16)
	for {
		line, err := lines.ReadString('\n')
		if errors.Is(err, io.EOF) && line == "" {
			return nil
		}
		if err != nil {
			if ctx.Err() != nil {
				c.kill(query)
			}
			return err
		}
		if err := row(strings.Split(strings.TrimSuffix(line, "\n"), "\t")); err != nil {
			return err
		}
	}
}

// mostFault is how much of a refusal is read.
const mostFault = 4 << 10

func (c *Columnar) post(ctx context.Context, settings url.Values, statement string) (*http.Response, error) {
	at := c.base
	at.RawQuery = settings.Encode()
	request, err := http.NewRequestWithContext(ctx, http.MethodPost, at.String(), strings.NewReader(statement))
	if err != nil {
		return nil, err
	}
	if c.user != nil {
		password, _ := c.user.Password()
		request.SetBasicAuth(c.user.Username(), password)
	}
	answer, err := c.client.Do(request)
	if err != nil {
		return nil, err
	}
	if answer.StatusCode == http.StatusOK {
		return answer, nil
	}
	defer func() { _ = answer.Body.Close() }()
	said, _ := io.ReadAll(io.LimitReader(answer.Body, mostFault))
	fault := &engineFault{}
	if found := faultCode.FindSubmatch(said); found != nil {
		fault.code, _ = strconv.Atoi(string(found[1]))
	}
	return nil, fault
}

// kill takes a question back whose asker left: the engine sees that only when it writes.
func (c *Columnar) kill(query string) {
	var beside parallel.Group
	beside.Go(func() error {
		ctx, cancel := context.WithTimeout(context.Background(), connectPatience)
		defer cancel()
		answer, err := c.post(ctx, url.Values{}, "kill query where query_id = "+literal(query))
		if err == nil {
			err = answer.Body.Close()
		}
		return err
	})
	_ = beside.Wait() // who may not kill waits for the engine to see it
}

// one gives the only row of a statement.
func (c *Columnar) one(ctx context.Context, statement string) (values []string, err error) {
	err = c.ask(ctx, statement, func(row []string) error { values = row; return nil })
	return values, err
}

// Describe implements Source.
func (c *Columnar) Describe(ctx context.Context) ([]Table, error) {
	ctx, cancel := context.WithTimeout(ctx, describePatience)
	defer cancel()
	if _, err := c.one(ctx, "select 1"); err != nil {
		return nil, c.trouble(ctx, err)
	}
	tables := make([]Table, len(c.named.Tables))
	for i, named := range c.named.Tables {
		s := &columnarSnapshot{of: c, named: named}
		if err := s.begin(ctx); err != nil {
			tables[i] = Table{Name: named.Name, Rows: -1, Trouble: c.trouble(ctx, err).Error()}
			continue
		}
		tables[i] = s.about
	}
	return tables, nil
}

// columnarSnapshot is a table while it is asked.
type columnarSnapshot struct {
	of      *Columnar
	named   NamedTable
	about   Table
	columns []sqlColumn
	left    []string // what is said of columns that are not read
	cluster string   // whose shards have the table; empty: it is here
}

// Begin implements Source.
func (c *Columnar) Begin(ctx context.Context, name string) (Snapshot, error) {
	for _, named := range c.named.Tables {
		if named.Name == name {
			s := &columnarSnapshot{of: c, named: named}
			return s, c.trouble(ctx, s.begin(ctx))
		}
	}
	return nil, ErrUnknown
}

// End implements Snapshot.
func (*columnarSnapshot) End() {}

var distributed = regexp.MustCompile(`^Distributed\('?([^,']+)`)

// begin finds out what the table is.
func (s *columnarSnapshot) begin(ctx context.Context) error {
	schema, name, _ := strings.Cut(s.named.Name, ".")
	where := "database = " + literal(schema) + " and "
	engine, err := s.of.one(ctx, "select engine, engine_full from system.tables where "+where+"name = "+literal(name))
	if err != nil {
		return err
	}
	if engine == nil {
		return &Trouble{"the database has no table of this name", "tell whoever runs this server"}
	}
	if found := distributed.FindStringSubmatch(engine[1]); found != nil {
		s.cluster = found[1]
	}
	err = s.of.ask(ctx, "select name, type, comment from system.columns where "+where+"table = "+literal(name), func(row []string) error {
		column := sqlColumn{name: unescaped(row[0]), meaning: unescaped(row[2]), how: columnarType(unescaped(row[1])), in: &columnarDialect}
		if column.how == nil {
			s.left = append(s.left, fmt.Sprintf("%s: the column holds %s and was left out", column.name, unescaped(row[1])))
			return nil
		}
		s.columns = append(s.columns, column)
		return nil
	})
	if err != nil {
		return err
	}
	if err := s.complete(ctx); err != nil {
		return err
	}
	rows, err := s.of.one(ctx, "select count() from "+s.from())
	if err != nil {
		return err
	}
	s.about = Table{Name: s.named.Name, Key: s.named.Key, Columns: len(s.columns)}
	s.about.Rows, err = strconv.ParseInt(rows[0], 10, 64)
	now := time.Now()
	s.about.AsOf = &now
	return err
}

func (s *columnarSnapshot) from() string {
	schema, name, _ := strings.Cut(s.named.Name, ".")
	return columnarDialect.quote(schema) + "." + columnarDialect.quote(name)
}

// complete holds that every shard answers, so that none is missing in what follows.
func (s *columnarSnapshot) complete(ctx context.Context) error {
	if s.cluster == "" {
		return nil
	}
	known, err := s.of.one(ctx, "select uniqExact(shard_num) from system.clusters where cluster = "+literal(s.cluster))
	if err != nil {
		return err
	}
	there, err := s.of.one(ctx, "select count() from cluster("+literal(s.cluster)+", system.one)")
	if err != nil {
		return err
	}
	if known[0] != there[0] {
		return &Trouble{"only " + there[0] + " of " + known[0] + " servers of the database answer", "ask again later"}
	}
	return nil
}

// Rows implements Snapshot.
func (s *columnarSnapshot) Rows(ctx context.Context, draw Draw) (*Drawn, error) {
	ctx, cancel := context.WithTimeout(ctx, rowsPatience)
	defer cancel()
	if err := draw.fits(s.columns); err != nil {
		return nil, err
	}
	statement, marked, whole, err := s.drawing(draw)
	if err != nil {
		return nil, err
	}
	gathered := make([]*gatheredColumn, len(s.columns))
	for i, c := range s.columns {
		gathered[i] = c.gathered()
	}
	g := newGathering(draw.Rows, gathered)
	err = s.of.ask(ctx, statement, func(row []string) error {
		mark := mixed(uint64(g.came), uint64(draw.Seed))
		if marked {
			var err error
			if mark, err = strconv.ParseUint(row[len(s.columns)], 10, 64); err != nil {
				return err
			}
		}
		if g.wanted(mark) {
			for i, c := range s.columns {
				if err := gathered[i].read(c.how, row[i]); err != nil {
					return err
				}
			}
			g.took(mark)
		}
		if g.came%progressRows == 0 && draw.Progress != nil {
			draw.Progress(int(g.came))
		}
		return nil
	})
	if err != nil {
		return nil, s.of.trouble(ctx, err)
	}
	out := &Drawn{Of: s.about.Rows, Counted: true, All: whole && g.came <= int64(draw.Rows), Notes: s.left}
	if draw.Counted != nil {
		out.Of, out.Counted, out.All = -1, false, g.came <= int64(draw.Rows)
	}
	if out.Table, err = g.table(); err == nil && out.Table.Rows() == 0 {
		return nil, &Trouble{"the table has no rows", "ask again when it has"}
	}
	return out, err
}

// drawing is the statement that draws: by the hash of the key, whose marks come last, or the whole of a table without one.
func (s *columnarSnapshot) drawing(draw Draw) (statement string, marked, whole bool, err error) {
	if draw.Counted != nil {
		where, _, err := draw.counting(&columnarDialect, s.columns)
		return s.selecting() + where, false, false, err
	}
	hash := ""
	for _, c := range s.columns {
		if c.name == s.named.Key && c.how.hash != "" {
			hash = fmt.Sprintf(c.how.hash, c.quoted(), literal(draw.Seed))
		}
	}
	if s.named.Key != "" && hash == "" {
		return "", false, false, keyless
	}
	share := draw.share(s.about.Rows)
	if hash == "" {
		if s.about.Rows > mostUnmarked {
			return "", false, false, tooLarge
		}
		return s.selecting(), false, true, nil
	}
	statement = s.selecting(hash)
	if share < 1 {
		statement += fmt.Sprintf(" where %s < %d", hash, uint64(share*math.MaxUint64))
	}
	return statement + " order by " + hash, true, share >= 1, nil // shards answer in any order
}

// selecting is the statement that takes all columns of all rows, and more.
func (s *columnarSnapshot) selecting(more ...string) string {
	columns := make([]string, len(s.columns))
	for i, c := range s.columns {
		columns[i] = fmt.Sprintf(c.how.written, c.quoted())
	}
	return "select " + strings.Join(append(columns, more...), ", ") + " from " + s.from()
}

// trouble puts an error into words that name no server and hold no statement.
func (c *Columnar) trouble(ctx context.Context, err error) error {
	if said, is := plainTrouble(ctx, err); is {
		return said
	}
	var fault *engineFault
	if errors.As(err, &fault) {
		for _, one := range columnarCodes {
			if one.code == fault.code {
				return &Trouble{one.problem, one.advice}
			}
		}
		return &Trouble{fmt.Sprintf("the database refuses (%d)", fault.code), "tell whoever runs this server"}
	}
	return &Trouble{"the database cannot be reached", "ask again later, or tell whoever runs this server"}
}

// columnarCodes are what the engine's errors mean to whoever asks.
var columnarCodes = []struct {
	code            int
	problem, advice string
}{
	{60, "the database has no table of this name", "tell whoever runs this server"},
	{81, "the database has no table of this name", "tell whoever runs this server"},
	{47, "a column of the table is gone or has another name", "ask again; if it stays so, tell whoever runs this server"},
	{16, "a column of the table is gone or has another name", "ask again; if it stays so, tell whoever runs this server"},
	{291, "the program may not read this table", "tell whoever runs this server"},
	{497, "the program may not read this table", "tell whoever runs this server"},
	{192, "the database does not let the program in", "tell whoever runs this server"},
	{193, "the database does not let the program in", "tell whoever runs this server"},
	{516, "the database does not let the program in", "tell whoever runs this server"},
	{209, "a server of the database cannot be reached", "ask again later, or tell whoever runs this server"},
	{210, "a server of the database cannot be reached", "ask again later, or tell whoever runs this server"},
	{279, "a server of the database cannot be reached", "ask again later, or tell whoever runs this server"},
	{159, "the database took the question back: it took longer than it may", "ask for fewer rows"},
	{241, "the database has no room for the question now", "ask again later"},
}
