export { AccountDialog } from "./AccountDialog";
export { MEMBER_ROLES } from "./PeopleSection";
export { SignInPage } from "./SignInPage";
export { WelcomePage } from "./WelcomePage";
export { SignInAgain } from "./SignInAgain";
