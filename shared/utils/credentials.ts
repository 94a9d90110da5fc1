import Joi from 'joi'

export interface Credentials { name: string, password: string }

/** Used by the routes and by the sign-in form's own messages. */
export const credentialsSchema = Joi.object<Credentials>({
  name: Joi.string().trim().min(1).max(60).required(),
  password: Joi.string().min(10).max(200).required(),
})
