import { later } from "../common/later";

export const NewLead = later(async () => (await import("../Leads/NewLead")).NewLead);
export const Keys = later(async () => (await import("./Keys")).Keys);
export const LeavingDialog = later(async () => (await import("./LeavingDialog")).LeavingDialog);
export const PersonMenu = later(async () => (await import("./PersonMenu")).PersonMenu);
export const SecondStepNeeded = later(async () => (await import("../Setup/SecondStepNeeded")).SecondStepNeeded);
export const SignIn = later(async () => (await import("../Setup/SignIn")).SignIn);
export const SignInAgain = later(async () => (await import("../Setup/SignInAgain")).SignInAgain);
