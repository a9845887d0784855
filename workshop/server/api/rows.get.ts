import { fetchRows, RowsError } from '../utils/fetch-rows'
import { guardOf } from '../utils/guard'

/** Rows from another address: the page itself may only reach its own server. */
export default defineEventHandler(async event => {
  const { address } = getQuery(event)
  try {
    const rows = await fetchRows(String(address ?? ''), guardOf(process.env))
    setResponseHeader(event, 'content-type', 'application/octet-stream')
    return rows
  } catch (error) {
    if (!(error instanceof RowsError)) throw error
    setResponseStatus(event, error.status)
    return { problem: error.message }
  }
})
