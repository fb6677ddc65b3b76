package app

import (
	"context"
	"fmt"

	"copperlark/core/scale"
)

// roomFor refuses what would fill the disk or the quota of a space. bytes and rows are
// about what is to be kept. Reading goes on whatever it says.
func (a *App) roomFor(ctx context.Context, spaceID, bytes, rows int64) error {
	free, err := a.limits.Room()
	if err != nil {
		return fmt.Errorf("looking how full the disk is: %w", err)
	}
	if free-bytes < a.limits.LeastRoom {
		return &Full{
			fmt.Sprintf(
				"the disk of the server is full: %s are left, and %s stay free for the database",
				inBytes(free),
				inBytes(a.limits.LeastRoom),
			),
			"nothing was kept and nothing is lost; whoever runs this server makes room on its disk, and then it goes on by itself",
		}
	}
	if a.limits.SpaceBytes == 0 && a.limits.SpaceRows == 0 || bytes == 0 && rows == 0 {
		return nil
	}
	usedBytes, usedRows, err := a.store.SpaceUse(ctx, spaceID)
	if err != nil {
		return err
	}
	if quota := a.limits.SpaceBytes; quota > 0 && usedBytes+bytes > quota {
		return &Full{
			fmt.Sprintf(
				"the space may keep %s; it keeps %s, and this would add about %s",
				inBytes(quota),
				inBytes(usedBytes),
				inBytes(bytes),
			),
			"delete datasets or versions that are no longer needed, or ask whoever runs this server to raise LARK_SPACE_MB",
		}
	}
	if quota := a.limits.SpaceRows; quota > 0 && usedRows+rows > quota {
		return &Full{
			fmt.Sprintf("the space may keep %s rows; it keeps %s, and this would add %s", counted(quota), counted(usedRows), counted(rows)),
			"delete datasets or versions that are no longer needed, or ask whoever runs this server to raise LARK_SPACE_ROWS",
		}
	}
	return nil
}

func counted(n int64) string { return scale.Number(float64(n), 0) }

func inBytes(n int64) string {
	switch {
	case n >= 10<<30:
		return counted(n>>30) + " GB"
	case n >= 1<<20 || n <= -1<<20:
		return counted(n>>20) + " MB"
	}
	return counted(n>>10) + " KB"
}
