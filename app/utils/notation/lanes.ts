/**
 * Marks stand under the notation in lanes, one for each hand, as high as these sizes of notation need: a sign and under
 * it a word.
 */
const LANE_SPACES = 2.6
const MIN_LANE_PX = 20
const MAX_LANE_PX = 40
/** From the lowest line of the system to the first lane, where nothing reaches lower. */
export const LANE_TOP_PX = 6
/** Over the notation, for what reaches above it, such as the number of a bar; and under the last lane. */
export const ROW_TOP_PX = 10
const ROW_GAP_PX = 4

export const lanePx = (spacePx: number): number => Math.min(MAX_LANE_PX, Math.max(MIN_LANE_PX, LANE_SPACES * spacePx))

/** Room a row needs above and below its notation for a number of lanes. */
export const lanesPx = (lanes: number, spacePx: number): number =>
  ROW_TOP_PX + LANE_TOP_PX + lanes * lanePx(spacePx) + ROW_GAP_PX
