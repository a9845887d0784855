import { answerWith } from '../../utils/web-request'
import { sightingsService } from '../../sightings/sightings-service'

/** The list of what the workshop’s own server holds. */
export default defineEventHandler(event => answerWith(event, sightingsService))
