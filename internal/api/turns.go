package api

import (
	"slices"

	"github.com/labstack/echo/v5"
)

// costly are the questions whose answers take a good part of a second of a
// processor when they are asked for the first time. What a hand drags is not
// among them.
var costly = []string{
	"BeginSession",
	"SurveyMaster",
	"GetThicknessMap",
	"GetDrawMap",
	"GetDrawPicture",
	"LayGang",
	"CompareGangs",
	"GetRubber",
	"GetBody",
	"GetBuildSheet",
	"GetTemplate",
	"PreviewBlockout",
	"ReadOutline",
	"TurnMaster",
	"PutMaster",
}

// inTurn answers only so many costly questions at a time: the others wait for
// their turn, and what a hand drags goes past them.
func inTurn(atOnce int) StrictMiddlewareFunc {
	turns := make(chan struct{}, atOnce)
	return func(next StrictHandlerFunc, operationID string) StrictHandlerFunc {
		if !slices.Contains(costly, operationID) {
			return next
		}
		return func(c *echo.Context, request any) (any, error) {
			ctx := c.Request().Context()
			select {
			case turns <- struct{}{}:
				defer func() { <-turns }()
				return next(c, request)
			case <-ctx.Done():
				return nil, ctx.Err()
			}
		}
	}
}
