import { BOOKING } from './booking.js'
import { GLAZE } from './glaze.js'
import { KILN } from './kiln.js'
import type { PlantedProgram } from './planted-program.js'

export const PLANTED_PROGRAMS: readonly PlantedProgram[] = [KILN, BOOKING, GLAZE]
