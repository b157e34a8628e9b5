/** Joi schemas of what kinds say of themselves. */
import Joi from 'joi';
import type { Field } from '../core/show/shape';
import { colour, id, oneOf, yes } from './field-schemas';

function schemaOf(field: Field): Joi.Schema {
  switch (field.is) {
    case 'flag':
      return yes;
    case 'choice':
      return oneOf(field.of);
    case 'number': {
      const number = Joi.number().min(field.min).max(field.max).required();
      return field.whole ? number.integer() : number;
    }
    case 'words': {
      const some = Joi.string().min(field.min).max(field.max).required();
      const words = field.min === 0 ? some.allow('') : some;
      return field.like
        ? words.pattern(field.like.pattern).messages({ 'string.pattern.base': field.like.say })
        : words;
    }
    case 'colour':
      return colour;
    case 'id':
      return field.or === undefined ? id : id.allow(field.or);
    case 'list':
      return Joi.array().items(bare(field.of)).min(field.min).max(field.max).required();
    case 'fields':
      return Joi.object(schemas(field.of)).required();
    case 'named':
      return Joi.object()
        .pattern(Joi.string().valid(...field.names), bare(field.of))
        .required();
  }
}

/** What a list may hold need not be there. */
const bare = (field: Field): Joi.Schema => schemaOf(field).optional();

const schemas = (of: Record<string, Field>): Record<string, Joi.Schema> =>
  Object.fromEntries(
    Object.entries(of).map(([name, field]) => [name, field.optional ? bare(field) : schemaOf(field)]),
  );

/**
 * One of several kinds, each with its settings and no others.
 * @param by the name of the field that says which
 * @param kinds of each kind its settings; several of them where a kind comes in several looks
 */
export function kindSchema(
  by: 'of' | 'type',
  kinds: Readonly<Record<string, { shape: Record<string, Field> | readonly Record<string, Field>[] }>>,
): Joi.Schema {
  const schemaOfKind = (name: string, shape: Record<string, Field>) =>
    Joi.object({ [by]: Joi.string().valid(name).required(), ...schemas(shape) });
  // Chosen by its name, not tried one after the other: so that what is wrong is said, and not just that none fits.
  return Joi.alternatives()
    .conditional(`.${by}`, {
      switch: Object.entries(kinds).map(([name, { shape }]) => ({
        is: name,
        then: isSeveral(shape)
          ? Joi.alternatives(...shape.map((one) => schemaOfKind(name, one)))
          : schemaOfKind(name, shape),
      })),
      otherwise: Joi.object({
        [by]: Joi.string()
          .valid(...Object.keys(kinds))
          .required(),
      }).unknown(),
    })
    .required();
}

const isSeveral = (shape: unknown): shape is readonly Record<string, Field>[] => Array.isArray(shape);
