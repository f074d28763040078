/** The part of JSON Schema that the forms understand. */
export interface Schema {
  $ref?: string | undefined;
  title?: string;
  type?: string | string[];
  enum?: string[];
  const?: string;
  default?: unknown;
  properties?: Record<string, Schema>;
  prefixItems?: Schema[];
  minItems?: number;
  maxItems?: number;
  items?: Schema;
  oneOf?: Schema[];
  anyOf?: Schema[] | undefined;
  discriminator?: { propertyName: string; mapping: Record<string, string> };
  $defs?: Record<string, Schema>;
  "x-quantity"?: "length" | "angle" | "count" | "number";
  "x-refers"?: string;
  "x-part"?: "face" | "edge" | "part";
  "x-whole"?: boolean;
}

/** The schema a reference leads to, its own words kept; the schema itself where it is none. */
export function resolved(schema: Schema, root: Schema): Schema {
  // something, or nothing at all
  const some = schema.anyOf?.find((one) => one.type !== "null");
  if (some && schema.anyOf?.length === 2) return resolved({ ...some, ...schema, anyOf: undefined }, root);
  if (!schema.$ref) return schema;
  const target = root.$defs?.[schema.$ref.slice(schema.$ref.lastIndexOf("/") + 1)] ?? {};
  return { ...target, ...schema, $ref: undefined };
}

/** The value at a path, or what the schema gives where the document says nothing. */
export function valueAt(params: Record<string, unknown>, name: string, schema: Schema): unknown {
  return params[name] ?? schema.default;
}
