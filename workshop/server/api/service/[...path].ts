import { answerWith } from '../../utils/web-request'
import { settingsOf, sightingsHandler } from '../../sightings/sightings-rows'

const handler = sightingsHandler(settingsOf(process.env), '/api/service')

/** The tables that the workshop's own server holds, over OData. */
export default defineEventHandler(event => answerWith(event, handler))
