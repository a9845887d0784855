import { XMLParser } from 'fast-xml-parser'

/** An element: its name, its attributes, and what is in it. */
interface Element {
  readonly name: string
  readonly attributes: Readonly<Partial<Record<string, string>>>
  readonly children: readonly Element[]
  readonly text: string
}

type Parsed = Readonly<Record<string, unknown>>

const ATTRIBUTES = ':@'
const TEXT = '#text'

/**
 * The XML representation of a service's metadata (CSDL XML 4.01) as the JSON representation has it, as far as that is read
 * here.
 */
export function metadataOfXml(xml: string): Record<string, unknown> {
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    removeNSPrefix: true,
    parseTagValue: false,
    processEntities: true,
  })
  const roots = elementsOf(parser.parse(xml) as readonly Parsed[])
  const schemas = allNamed(roots, 'Schema')
  const document: Record<string, unknown> = { $Version: allNamed(roots, 'Edmx').at(0)?.attributes.Version }
  for (const schema of schemas) {
    const space = schema.attributes.Namespace ?? ''
    const made: Record<string, unknown> = {}
    for (const element of schema.children) {
      const { Name } = element.attributes
      if (Name !== undefined) made[Name] = described(element)
      if (element.name === 'EntityContainer' && Name !== undefined)
        document.$EntityContainer = `${space}.${Name}`
    }
    document[space] = made
    if (schema.attributes.Alias !== undefined) document[schema.attributes.Alias] = made
  }
  for (const schema of schemas)
    for (const annotations of schema.children.filter(({ name }) => name === 'Annotations'))
      annotate(document, annotations)
  return document
}

function elementsOf(parsed: readonly Parsed[]): Element[] {
  return parsed.flatMap(one => {
    const name = Object.keys(one).find(key => key !== ATTRIBUTES && key !== TEXT)
    if (name === undefined || name.startsWith('?')) return []
    const inner = one[name] as readonly Parsed[]
    return [
      {
        name,
        attributes: (one[ATTRIBUTES] ?? {}) as Element['attributes'],
        children: elementsOf(inner),
        text: inner.map(child => (TEXT in child ? String(child[TEXT]) : '')).join(''),
      },
    ]
  })
}

const allNamed = (elements: readonly Element[], name: string): Element[] =>
  elements.flatMap(element => (element.name === name ? [element] : allNamed(element.children, name)))

/** A type, a container, or a part of one. */
function described(element: Element): Record<string, unknown> {
  const { attributes, children } = element
  const made: Record<string, unknown> = { $Kind: element.name, ...annotationsOf(children) }
  if (attributes.BaseType !== undefined) made.$BaseType = attributes.BaseType
  if (attributes.UnderlyingType !== undefined) made.$UnderlyingType = attributes.UnderlyingType
  for (const child of children) {
    const { Name } = child.attributes
    switch (child.name) {
      case 'Key':
        made.$Key = child.children.map(({ attributes: { Name: name = '', Alias } }) =>
          Alias === undefined ? name : { [Alias]: name },
        )
        break
      case 'Property':
      case 'NavigationProperty':
        if (Name !== undefined) made[Name] = propertyOf(child)
        break
      case 'EntitySet':
        if (Name !== undefined)
          made[Name] = {
            $Collection: true,
            $Type: child.attributes.EntityType,
            ...annotationsOf(child.children),
          }
        break
      case 'Member':
        if (Name !== undefined) made[Name] = Number(child.attributes.Value ?? 0)
    }
  }
  return made
}

function propertyOf({ name, attributes, children }: Element): Record<string, unknown> {
  const { Type = 'Edm.String', Nullable, Precision, Scale } = attributes
  const several = /^Collection\((.*)\)$/.exec(Type)
  return {
    ...(name === 'NavigationProperty' ? { $Kind: name } : {}),
    $Type: several ? several[1] : Type,
    ...(several ? { $Collection: true } : {}),
    ...(Nullable === 'false' ? {} : { $Nullable: true }),
    ...(Precision === undefined ? {} : { $Precision: Number(Precision) }),
    ...(Scale === undefined || Number.isNaN(Number(Scale)) ? {} : { $Scale: Number(Scale) }),
    ...annotationsOf(children),
  }
}

/** By `@` and the name of the term. */
const annotationsOf = (children: readonly Element[]): Record<string, unknown> =>
  Object.fromEntries(
    children
      .filter(({ name, attributes }) => name === 'Annotation' && attributes.Term !== undefined)
      .map(one => [`@${one.attributes.Term ?? ''}`, valueOf(one)]),
  )

/** What an annotation says: by its attribute, or by an element in it. */
function valueOf({ attributes, children }: Element): unknown {
  if (attributes.Bool !== undefined) return attributes.Bool === 'true'
  if (attributes.Int !== undefined) return Number(attributes.Int)
  for (const name of ['String', 'EnumMember', 'PropertyPath', 'Path'])
    if (attributes[name] !== undefined) return attributes[name]
  const inner = children.find(({ name }) => name !== 'Annotation')
  return inner ? elementValue(inner) : true
}

function elementValue(element: Element): unknown {
  switch (element.name) {
    case 'Bool':
      return element.text.trim() === 'true'
    case 'Int':
      return Number(element.text)
    case 'Collection':
      return element.children.map(elementValue)
    case 'Record':
      return Object.fromEntries(
        element.children
          .filter(({ name }) => name === 'PropertyValue')
          .map(one => [one.attributes.Property ?? '', valueOf(one)]),
      )
    default:
      return element.text
  }
}

/** Annotations that stand apart name their target: `Space.Container/set`, `Space.Type/property`. */
function annotate(document: Record<string, unknown>, { attributes, children }: Element): void {
  const [whole, ...path] = (attributes.Target ?? '').split('/')
  const dot = whole.lastIndexOf('.')
  let at: unknown = document[whole.slice(0, Math.max(0, dot))]
  for (const step of [whole.slice(dot + 1), ...path])
    at = typeof at === 'object' && at !== null ? (at as Record<string, unknown>)[step] : undefined
  if (typeof at === 'object' && at !== null) Object.assign(at, annotationsOf(children))
}
