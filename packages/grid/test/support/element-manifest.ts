import type { Package } from 'custom-elements-manifest/schema'
import type { MemberTold } from './api-reference.ts'
import { CUSTOM_PROPERTIES, PARTS } from './styling.ts'

const described = (told: Readonly<Record<string, string>>): { name: string; description: string }[] =>
  Object.entries(told).map(([name, description]) => ({ name, description }))

const SRC = 'The address of a file of rows.'
const HANDLE = 'The mounted grid; null while the element is not in a page.'

/** The element as editors and documentation tools want to be told of it: a custom elements manifest, version 2.1. */
export function elementManifest(options: readonly MemberTold[], events: readonly MemberTold[]): Package {
  const all = 'All options at once.'
  const properties = [{ name: 'options', type: 'MeadowOptions', says: all }, ...options]
  return {
    schemaVersion: '2.1.0',
    modules: [
      {
        kind: 'javascript-module',
        path: 'dist/element.js',
        declarations: [
          {
            kind: 'class',
            name: 'VastMeadowElement',
            tagName: 'vast-meadow',
            customElement: true,
            description: 'A data grid for very large tables.',
            superclass: { name: 'HTMLElement' },
            attributes: [{ name: 'src', type: { text: 'string' }, description: SRC }],
            members: [
              ...properties.map(({ name, type, says }) => ({
                kind: 'field' as const,
                name,
                type: { text: type },
                description: says,
              })),
              {
                kind: 'field' as const,
                name: 'handle',
                type: { text: 'MeadowHandle | null' },
                description: HANDLE,
                readonly: true,
              },
            ],
            events: events.map(({ name, type, says }) => ({
              name: `meadow-${name}`,
              type: { text: `CustomEvent<${type}>` },
              description: says,
            })),
            slots: [],
            cssParts: described(PARTS),
            cssProperties: described(CUSTOM_PROPERTIES),
          },
        ],
        exports: [
          {
            kind: 'custom-element-definition',
            name: 'vast-meadow',
            declaration: { name: 'VastMeadowElement', module: 'dist/element.js' },
          },
        ],
      },
    ],
  }
}

/** The same for readers. */
export function elementReference(events: readonly MemberTold[]): string {
  const list = (told: Readonly<Record<string, string>>): string =>
    Object.entries(told)
      .map(([name, says]) => `- \`${name}\`  \n  ${says}`)
      .join('\n')
  return [
    `## The element \`<vast-meadow>\`\n\n- the attribute \`src\`  \n  ${SRC}\n- each of the options above as a property, and \`options\`  \n  All of them at once.\n- the property \`handle\`  \n  ${HANDLE}\n- the events ${events.map(({ name }) => `\`meadow-${name}\``).join(', ')}  \n  What they tell is their \`detail\`.\n- no slots: cells and details of one's own are [painted](cells.md), or drawn by the components of Vue (slots \`cell:column\`, \`detail:painter\`) and React (\`cells\`, \`details\`).`,
    `## Parts for \`::part(…)\`\n\n${list(PARTS)}`,
    `## Custom properties\n\n${list(CUSTOM_PROPERTIES)}`,
  ].join('\n\n')
}
