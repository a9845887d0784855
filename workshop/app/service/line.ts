import { shallowRef } from 'vue'

/** How the line to a service is while one tries the grid on it. */
export interface Line {
  /** Milliseconds that every answer takes at least, and up to how many more. */
  readonly latencyMs: number
  readonly jitterMs: number
  /** The part of the questions that get lost. */
  readonly loss: number
  /** Nothing comes through. */
  readonly down: boolean
}

export const GOOD_LINE: Line = { latencyMs: 0, jitterMs: 0, loss: 0, down: false }

export const line = shallowRef<Line>(GOOD_LINE)

/** Asks over the line as it is set just now. */
export async function fetchOverLine(request: Request): Promise<Response> {
  const { latencyMs, jitterMs } = line.value
  if (latencyMs + jitterMs > 0) await pause(latencyMs + Math.random() * jitterMs, request.signal)
  if (line.value.down || Math.random() < line.value.loss)
    throw new TypeError('the line that is tried lost it')
  return await fetch(request)
}

function pause(ms: number, signal: AbortSignal): Promise<void> {
  return new Promise((resolve, reject) => {
    const timer = setTimeout(resolve, ms)
    signal.addEventListener('abort', () => {
      clearTimeout(timer)
      reject(new DOMException('given up', 'AbortError'))
    })
  })
}
