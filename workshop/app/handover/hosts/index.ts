import type { HandedFile, HostName } from '../hand-over'
import type { HandedGrid } from '../handed-grid'
import { angular } from './angular'
import { definition } from './definition'
import type { Host } from './host'
import { page } from './page'
import { react } from './react'
import { svelte } from './svelte'
import { vite } from './vite'
import { vue } from './vue'

/** What a grid can be handed over for, in the order in which it is offered. */
export const hosts: Readonly<Record<HostName, Host>> = { page, vite, vue, react, svelte, angular, definition }

export const HOST_NAMES = Object.keys(hosts) as HostName[]

/** The files that are handed over for a host, what is packed apart not among them. */
export const filesOf = (host: HostName, grid: HandedGrid): readonly HandedFile[] => hosts[host].files(grid)
