/** The primitives: a closed list. What is painted, found and emphasised is one of these. */
import type { PrimitiveKind } from '../../figure/figure'
import type { Paint } from './brush'
import { paintAreas, paintPaths, paintPolygons, paintRects, paintSegments } from './lines'
import { paintPoints } from './points'
import { paintTexts } from './texts'

export const PAINT: Record<PrimitiveKind, Paint> = {
  points: paintPoints,
  paths: paintPaths,
  areas: paintAreas,
  rects: paintRects,
  polygons: paintPolygons,
  segments: paintSegments,
  texts: paintTexts,
}
