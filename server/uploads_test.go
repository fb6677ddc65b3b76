package server

import (
	"bytes"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
)

// TestAFormIsTakenOffTheFileThatItHolds sends files as forms do: the envelope is no part of the table.
func TestAFormIsTakenOffTheFileThatItHolds(t *testing.T) {
	anwen, _, _ := world(t)
	const table = "hive,kg\nA,1.5\nB,2\n"
	send := func(files ...string) (int, string) {
		var body bytes.Buffer
		form := multipart.NewWriter(&body)
		_ = form.WriteField("comment", "not a file")
		for i, content := range files {
			part, _ := form.CreateFormFile("file", fmt.Sprintf("table %d.csv", i+1))
			_, _ = part.Write([]byte(content))
		}
		_ = form.Close()
		request := httptest.NewRequest(http.MethodPost, "/api/uploads", &body)
		request.Header.Set("Content-Type", form.FormDataContentType())
		request.AddCookie(&http.Cookie{Name: sessionCookie, Value: anwen.cookie})
		answer := httptest.NewRecorder()
		anwen.handler.ServeHTTP(answer, request)
		return answer.Code, answer.Body.String()
	}
	for _, test := range []struct {
		files  []string
		status int
		words  []string
	}{
		{[]string{table}, 200, []string{`"name":"hive"`, `"rows":2`, "table 1"}},
		{nil, 422, []string{"the form holds no file"}},
		{[]string{table, table}, 422, []string{"more than one file"}},
	} {
		status, said := send(test.files...)
		for _, words := range test.words {
			if status != test.status || !strings.Contains(said, words) {
				t.Errorf("%d files: %d %s, want %d and %q", len(test.files), status, said, test.status, words)
			}
		}
	}
}
