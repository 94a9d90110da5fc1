import Joi from 'joi'

export interface Credentials { name: string, password: string }

/** Used by the routes and by the sign-in form's own messages. */
export const credentialsSchema = Joi.object<Credentials>({
  name: Joi.string().min(1).max(60).required().messages({ 'string.empty': 'Please enter a name.', 'string.max': 'A name has at most 60 characters.' }),
  password: Joi.string().min(10).max(200).required().messages({ 'string.empty': 'Please enter a password.', 'string.min': 'A password needs at least 10 characters.', 'string.max': 'A password has at most 200 characters.' }),
})
