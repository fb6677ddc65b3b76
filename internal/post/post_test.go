package post

import (
	"context"
	"io"
	"net"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-smtp"
)

// box is a server that takes letters, as they come.
type box struct{ letters chan string }

func (b *box) NewSession(*smtp.Conn) (smtp.Session, error) { return &delivery{box: b}, nil }

type delivery struct {
	box      *box
	from, to string
}

func (d *delivery) Reset()                                      {}
func (d *delivery) Logout() error                               { return nil }
func (d *delivery) Mail(from string, _ *smtp.MailOptions) error { d.from = from; return nil }
func (d *delivery) Rcpt(to string, _ *smtp.RcptOptions) error   { d.to = to; return nil }
func (d *delivery) Data(r io.Reader) error {
	text, err := io.ReadAll(r)
	d.box.letters <- d.from + " " + d.to + "\n" + string(text)
	return err
}

// TestALetterArrives sends one to a server on loopback, and none where a password would go without TLS.
func TestALetterArrives(t *testing.T) {
	took := &box{make(chan string, 2)}
	server := smtp.NewServer(took)
	server.Domain = "localhost"
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go func() { _ = server.Serve(listener) }()
	defer func() { _ = server.Close() }()
	at := "smtp://" + listener.Addr().String()
	sender, err := New(at, "lark@thornwick.example")
	if err != nil {
		t.Fatal(err)
	}
	if err := sender.Send(context.Background(), "mab@thornwick.example", "A new password", "https://lark.example/password/x\n"); err != nil {
		t.Fatal(err)
	}
	select {
	case letter := <-took.letters:
		if !strings.HasPrefix(letter, "lark@thornwick.example mab@thornwick.example\n") || !strings.Contains(letter, "/password/x") ||
			!strings.Contains(letter, "Subject: A new password") {
			t.Errorf("the letter is %s", letter)
		}
	case <-time.After(10 * time.Second):
		t.Error("no letter arrived")
	}
	if err := sender.Send(context.Background(), "mab@thornwick.example\r\nBcc: eve@thornwick.example", "x", "x"); err == nil {
		t.Error("an address with a line in it was taken")
	}
	secret, err := New(strings.Replace(at, "//", "//name:word@", 1), "lark@thornwick.example")
	if err != nil {
		t.Fatal(err)
	}
	if err := secret.Send(context.Background(), "mab@thornwick.example", "x", "x"); err == nil {
		t.Error("a password went to a server without TLS")
	}
	for _, wrong := range [][2]string{{"lark.example", "a@b.example"}, {"https://lark.example", "a@b.example"}, {at, "nobody"}} {
		if _, err := New(wrong[0], wrong[1]); err == nil {
			t.Errorf("%q from %q is taken", wrong[0], wrong[1])
		}
	}
}
