import { answerWith } from '../../utils/web-request'
import { sightingsService } from '../../sightings/sightings-service'

/** Questions to the tables that the workshop’s own server holds. */
export default defineEventHandler(event => answerWith(event, sightingsService))
