export { SignInDialog, SignInForm, SignUpPage } from './SignIn'
export { usePeople } from './use-people'
