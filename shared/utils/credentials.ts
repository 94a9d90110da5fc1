import Joi from 'joi'

export interface Credentials {
  name: string
  password: string
}

const nameSchema = Joi.string()
  .min(1)
  .max(60)
  .required()
  .messages({ 'string.empty': 'Please enter a name.', 'string.max': 'A name has at most 60 characters.' })
const passwordSchema = Joi.string().min(10).max(200).required().messages({
  'string.empty': 'Please enter a password.',
  'string.min': 'A password needs at least 10 characters.',
  'string.max': 'A password has at most 200 characters.',
})

/** Used by the routes and by the forms' own messages. */
export const credentialsSchema = Joi.object<Credentials>({ name: nameSchema, password: passwordSchema })

/** Somebody new: where the program runs for one's own use, the first one needs no password. */
export const newcomerSchema = Joi.object<{ name: string; password?: string }>({
  name: nameSchema,
  password: passwordSchema.optional(),
})

/** Another name. */
export const renamingSchema = Joi.object<{ name: string }>({ name: nameSchema })

/** Another password, and the one until now where there is one. */
export const passwordChangeSchema = Joi.object<{ current?: string; password: string }>({
  current: Joi.string().allow('').max(200),
  password: passwordSchema,
})
