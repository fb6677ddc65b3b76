package server

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"copperlark/app"
	"copperlark/core/chart"
)

// chartTag is what a chart is as it stands: another step, version or name is another tag.
func chartTag(c app.Chart) string {
	sum := sha256.Sum256([]byte(c.Name))
	return fmt.Sprintf(`"chart-%d-%d-%d-%s"`, c.ID, c.VersionID, c.HeadStepID, hex.EncodeToString(sum[:4]))
}

// datasetTag is what a dataset is: another version is another tag.
func datasetTag(d app.Dataset) string { return fmt.Sprintf(`"dataset-%d-%d"`, d.ID, d.VersionID) }

// matches reports whether a header of RFC 9110, a list of tags or *, holds a tag.
func matches(header, tag string) bool {
	for _, one := range strings.Split(header, ",") {
		if one = strings.TrimPrefix(strings.TrimSpace(one), "W/"); one == "*" || one == tag {
			return true
		}
	}
	return false
}

// unchanged holds what somebody changes to what they saw of it; an empty If-Match sees nothing and changes anything.
func unchanged(ifMatch, tag string) error {
	if ifMatch == "" || matches(ifMatch, tag) {
		return nil
	}
	return app.ErrChanged
}

// tagged sends the tag of what is answered, and reports whether whoever asks has it already, and was told so.
func tagged(c *gin.Context, tag string) (had bool) {
	c.Header("ETag", tag)
	c.Header("Cache-Control", "private, no-cache")
	if header := c.GetHeader("If-None-Match"); header == "" || !matches(header, tag) {
		return false
	}
	c.Status(http.StatusNotModified)
	c.Writer.WriteHeaderNow()
	return true
}

type taggedBody[T any] struct {
	ETag string `header:"ETag"`
	Body T
}

func (s *Server) taggedDataset(ctx context.Context, who app.Person, in *idInput) (*taggedBody[DatasetWithColumns], error) {
	dataset, columns, err := s.app.Dataset(ctx, who.SpaceID, in.ID)
	return &taggedBody[DatasetWithColumns]{datasetTag(dataset), DatasetWithColumns{dataset, columns}}, err
}

type changedChartInput struct {
	Chart   int64  `path:"chart"`
	IfMatch string `header:"If-Match" doc:"the ETag of the chart as it was seen: it is changed only while it is that"`
	Body    struct {
		Typed   string            `json:"typed,omitempty" maxLength:"100000" doc:"another sentence: a step more of its trail"`
		Version int64             `json:"version,omitempty" doc:"another version of its dataset: the same chart over other rows"`
		Columns map[string]string `json:"columns,omitempty" doc:"with a version: what columns of the chart are called there"`
		Name    string            `json:"name,omitempty" maxLength:"300"`
	}
}

// changedChart lays a chart over another version, says it otherwise, and renames it, in that order.
func (s *Server) changedChart(ctx context.Context, who app.Person, in *changedChartInput) (*taggedBody[KeptChart], error) {
	kept, err := s.app.KeptChart(ctx, who.SpaceID, in.Chart)
	if err != nil {
		return nil, err
	}
	if err := unchanged(in.IfMatch, chartTag(kept)); err != nil {
		return nil, err
	}
	version := cmp.Or(in.Body.Version, kept.VersionID)
	var said *chart.Document
	if in.Body.Typed != "" { // before anything is changed: a wrong sentence changes nothing
		if said, _, err = s.app.Stated(ctx, who.SpaceID, version, nil, in.Body.Typed); err != nil {
			return nil, err
		}
	}
	change := app.ChartChange{Name: in.Body.Name, VersionID: in.Body.Version, Columns: in.Body.Columns}
	if err := s.app.ChangeChart(ctx, who, kept.ID, change); err != nil {
		return nil, err
	}
	if said != nil {
		if _, err := s.app.AddStep(ctx, who, kept.ID, kept.HeadStepID, said, false); err != nil {
			return nil, err
		}
	}
	if kept, err = s.app.KeptChart(ctx, who.SpaceID, in.Chart); err != nil {
		return nil, err
	}
	_, sentence, err := s.app.Stated(ctx, who.SpaceID, kept.VersionID, kept.Document, "")
	return &taggedBody[KeptChart]{chartTag(kept), s.keptChart(ctx, who, kept, sentence)}, err
}
