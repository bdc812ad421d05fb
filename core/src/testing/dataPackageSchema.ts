/**
 * The profile of a Data Package that holds tables, as a JSON Schema: what the standard requires and allows of a package, its
 * resources and the schemas of their tables.
 * @source Data Package standard version 2.0 (datapackage.org): Data Package, Data Resource, Table Dialect, Table Schema; from memory
 */
export const DATA_PACKAGE_SCHEMA = {
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  type: 'object',
  required: ['resources'],
  properties: {
    $schema: { type: 'string', format: 'uri' },
    name: { type: 'string', pattern: '^[-a-z0-9._/]+$' },
    id: { type: 'string' },
    title: { type: 'string' },
    description: { type: 'string' },
    homepage: { type: 'string', format: 'uri' },
    version: { type: 'string' },
    created: { type: 'string', format: 'date-time' },
    keywords: { type: 'array', minItems: 1, items: { type: 'string' } },
    resources: { type: 'array', minItems: 1, items: { $ref: '#/$defs/resource' } },
  },
  $defs: {
    resource: {
      type: 'object',
      required: ['name'],
      oneOf: [{ required: ['path'] }, { required: ['data'] }],
      properties: {
        name: { type: 'string', pattern: '^[-a-z0-9._/]+$' },
        // Neither absolute nor above the package.
        path: { type: 'string', pattern: '^(?=[^./~])(?!file:)((?!/\\.\\./)(?!\\\\)(?!://).)*$' },
        type: { const: 'table' },
        title: { type: 'string' },
        description: { type: 'string' },
        format: { type: 'string' },
        mediatype: { type: 'string', pattern: '^.+/.+$' },
        encoding: { type: 'string' },
        bytes: { type: 'integer' },
        hash: { type: 'string', pattern: '^([^:]+:[a-fA-F0-9]+|[a-fA-F0-9]{32})$' },
        schema: { $ref: '#/$defs/schema' },
      },
    },
    schema: {
      type: 'object',
      required: ['fields'],
      properties: {
        fields: { type: 'array', minItems: 1, items: { $ref: '#/$defs/field' } },
        missingValues: { type: 'array', items: { type: 'string' }, uniqueItems: true },
        primaryKey: { type: 'array', minItems: 1, items: { type: 'string' } },
      },
    },
    field: {
      type: 'object',
      required: ['name'],
      properties: {
        name: { type: 'string' },
        type: {
          enum: [
            ...['string', 'number', 'integer', 'boolean', 'object', 'array', 'list', 'any'],
            ...['date', 'time', 'datetime', 'year', 'yearmonth', 'duration', 'geopoint', 'geojson'],
          ],
        },
        format: { type: 'string' },
        title: { type: 'string' },
        description: { type: 'string' },
        constraints: { type: 'object' },
      },
    },
  },
} as const;
