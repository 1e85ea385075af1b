/** The order in which a person reads and writes the parts of a date. */
export type DateOrder = "dayFirst" | "monthFirst" | "yearFirst";

/** How the signed-in person reads and writes days and times. */
export type PersonForm = { zone: string; dates: DateOrder };

let form: PersonForm = { zone: "UTC", dates: "dayFirst" };

/** Says how the person reads and writes; known once they are signed in. */
export const setForm = (of: PersonForm) => void (form = of);

export const personForm = () => form;

/** The locale whose order of dates and first day of the week are the person's. */
export const localeOf = (dates: DateOrder) => ({ dayFirst: "en-GB", monthFirst: "en-US", yearFirst: "sv-SE" })[dates];
