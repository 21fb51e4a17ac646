import type { AreaPlace, DoorPlace } from './plan'

/** Places are counted in thousandths of the plan. */
export const WHOLE = 1000
/** No area is drawn smaller than this. */
export const LEAST = 10
const between = (least: number, value: number, most: number) =>
  Math.round(Math.min(most, Math.max(least, value)))
export const moved = (place: DoorPlace, x: number, y: number): DoorPlace => ({
  ...place,
  x: between(0, x, WHOLE),
  y: between(0, y, WHOLE),
})
/** An area that is put somewhere else stays whole on the plan. */
export const movedArea = (area: AreaPlace, x: number, y: number): AreaPlace => ({
  ...area,
  x: between(0, x, WHOLE - area.width),
  y: between(0, y, WHOLE - area.height),
})
/** An area whose lower right corner is pulled: it ends at the edge of the plan at the latest. */
export const sizedArea = (area: AreaPlace, width: number, height: number): AreaPlace => ({
  ...area,
  width: between(LEAST, width, WHOLE - area.x),
  height: between(LEAST, height, WHOLE - area.y),
})
