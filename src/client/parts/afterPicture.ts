/** Does it once the browser has drawn what is pressed, where the work takes longer than a press should wait to be seen. */
export const afterPicture = (work: () => void) => void requestAnimationFrame(() => setTimeout(work));
