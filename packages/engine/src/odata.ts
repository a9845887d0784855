// Rows that a service holds, over OData v4.01: its own entry, so that pages without such rows do not carry it.
export { serviceSource } from './service/service-source.ts'
export type { AskedOfService, ServiceOptions } from './service/service-options.ts'
