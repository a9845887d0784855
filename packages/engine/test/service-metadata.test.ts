import { describe, expect, it } from 'vitest'
import { metadataOfXml } from '../src/service/metadata-xml.ts'
import { readMetadata } from '../src/service/read-metadata.ts'
import type { ServiceSchema } from '../src/service/schema.ts'
import { SourceError } from '../src/source/row-source.ts'

const XML = `<?xml version="1.0" encoding="UTF-8"?>
<edmx:Edmx Version="4.01" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx">
  <edmx:Reference Uri="capabilities.xml"><edmx:Include Namespace="Org.OData.Capabilities.V1"/></edmx:Reference>
  <edmx:DataServices>
    <Schema Namespace="Survey" Alias="Self" xmlns="http://docs.oasis-open.org/odata/ns/edm">
      <EnumType Name="State"><Member Name="seen" Value="0"/><Member Name="doubtful" Value="1"/></EnumType>
      <TypeDefinition Name="Share" UnderlyingType="Edm.Decimal"/>
      <ComplexType Name="Place"><Property Name="site" Type="Edm.String"/><Property Name="point" Type="Edm.GeographyPoint"/></ComplexType>
      <EntityType Name="Kept" Abstract="true">
        <Key><PropertyRef Name="id"/></Key>
        <Property Name="id" Type="Edm.Int64" Nullable="false"/>
      </EntityType>
      <EntityType Name="Sighting" BaseType="Self.Kept">
        <Property Name="note" Type="Edm.String"><Annotation Term="Org.OData.Core.V1.Description" String="A &amp; B"/></Property>
        <Property Name="price" Type="Edm.Decimal" Precision="10" Scale="2"/>
        <Property Name="whole" Type="Edm.Decimal" Scale="0"/>
        <Property Name="seen" Type="Edm.DateTimeOffset"/>
        <Property Name="wall" Type="Edm.DateTimeOffset"><Annotation Term="VastMeadow.WallTime" Bool="true"/></Property>
        <Property Name="tags" Type="Collection(Edm.String)"/>
        <Property Name="numbers" Type="Collection(Edm.Int32)"/>
        <Property Name="state" Type="Survey.State"/>
        <Property Name="share" Type="Survey.Share"/>
        <Property Name="place" Type="Survey.Place"/>
        <NavigationProperty Name="observer" Type="Survey.Sighting"/>
      </EntityType>
      <EntityContainer Name="Container">
        <EntitySet Name="sightings" EntityType="Survey.Sighting">
          <Annotation Term="Org.OData.Capabilities.V1.SearchRestrictions"><Record><PropertyValue Property="Searchable" Bool="false"/></Record></Annotation>
        </EntitySet>
        <EntitySet Name="others" EntityType="Survey.Sighting"/>
        <Annotation Term="Org.OData.Capabilities.V1.FilterFunctions"><Collection><String>contains</String><String>tolower</String></Collection></Annotation>
      </EntityContainer>
      <Annotations Target="Survey.Container/sightings">
        <Annotation Term="Org.OData.Aggregation.V1.ApplySupported">
          <Record><PropertyValue Property="Transformations"><Collection><String>groupby</String><String>aggregate</String></Collection></PropertyValue></Record>
        </Annotation>
      </Annotations>
    </Schema>
  </edmx:DataServices>
</edmx:Edmx>`

const JSON_FORM = {
  $Version: '4.01',
  $EntityContainer: 'Survey.Container',
  Survey: {
    State: { $Kind: 'EnumType', seen: 0, doubtful: 1 },
    Share: { $Kind: 'TypeDefinition', $UnderlyingType: 'Edm.Decimal' },
    Place: { $Kind: 'ComplexType', site: {}, point: { $Type: 'Edm.GeographyPoint' } },
    Kept: { $Kind: 'EntityType', $Key: ['id'], id: { $Type: 'Edm.Int64' } },
    Sighting: {
      $Kind: 'EntityType',
      $BaseType: 'Survey.Kept',
      note: { $Nullable: true },
      price: { $Type: 'Edm.Decimal', $Precision: 10, $Scale: 2 },
      whole: { $Type: 'Edm.Decimal', $Scale: 0 },
      seen: { $Type: 'Edm.DateTimeOffset' },
      wall: { $Type: 'Edm.DateTimeOffset', '@VastMeadow.WallTime': true },
      tags: { $Collection: true },
      numbers: { $Type: 'Edm.Int32', $Collection: true },
      state: { $Type: 'Survey.State' },
      share: { $Type: 'Survey.Share' },
      place: { $Type: 'Survey.Place' },
      observer: { $Kind: 'NavigationProperty', $Type: 'Survey.Sighting' },
    },
    Container: {
      $Kind: 'EntityContainer',
      '@Org.OData.Capabilities.V1.FilterFunctions': ['contains', 'tolower'],
      sightings: {
        $Collection: true,
        $Type: 'Survey.Sighting',
        '@Org.OData.Capabilities.V1.SearchRestrictions': { Searchable: false },
        '@Org.OData.Aggregation.V1.ApplySupported': { Transformations: ['groupby', 'aggregate'] },
      },
      others: { $Collection: true, $Type: 'Survey.Sighting' },
    },
  },
}

const FORMS = { JSON: () => JSON_FORM, XML: () => metadataOfXml(XML) }

describe.each(Object.keys(FORMS) as (keyof typeof FORMS)[])('the metadata of a service as %s', form => {
  const read = (rows: string): ServiceSchema => readMetadata(FORMS[form](), rows, 'here')

  it('become fields, what is inherited first and what is within by its path', () => {
    const { properties, key, leftOut } = read('sightings')
    const told = properties.map(({ field: { key: name, type, decimals, zoned } }) =>
      [name, type, decimals ?? '', zoned ?? ''].join(' ').trim(),
    )
    expect(told).toEqual([
      'id integer',
      'note text',
      'price number 2',
      'whole integer',
      'seen datetime  true',
      'wall datetime  false',
      'tags tags',
      'state text',
      'share number',
      'place/site text',
    ])
    expect(key).toEqual(['id'])
    expect(leftOut).toEqual(['numbers', 'place/point'])
  })

  it('say what can be asked, and what they do not say can be', () => {
    const { can } = read('sightings')
    expect([can.search, can.count, can.order]).toEqual([false, true, true])
    expect([...can.functions]).toEqual(['contains', 'tolower'])
    expect([...can.apply]).toEqual(['groupby', 'aggregate'])
    expect(read('others').can.search).toBe(true)
    expect([...read('others').can.apply]).toEqual([])
  })

  it('are refused where they do not have the rows, with what they have', () => {
    let problem: unknown
    try {
      read('sighting')
    } catch (error) {
      problem = error instanceof SourceError ? error.problem : error
    }
    expect(problem).toEqual({
      code: 'service-has-no-such-rows',
      service: 'here',
      rows: 'sighting',
      names: ['sightings', 'others'],
    })
  })
})
