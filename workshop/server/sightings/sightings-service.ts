import { settingsOf, sightingsHandler } from './sightings-rows'

/** The tables that the workshop's own server holds, over OData. */
export const sightingsService = sightingsHandler(settingsOf(process.env), '/api/service')
