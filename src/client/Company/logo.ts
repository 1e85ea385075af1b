const widest = 600;
const highest = 200;

/** Reads a picture that the browser can show, and makes a PNG of it that is small enough for a logo. */
export async function logoOf(file: File): Promise<Blob> {
  const address = await new Promise<string>((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(unread());
    reader.readAsDataURL(file);
  });
  const picture = new Image();
  picture.src = address;
  await picture.decode().catch(() => Promise.reject(unread()));
  // A drawing without a size of its own is given one.
  const [width, height] = [picture.naturalWidth || widest, picture.naturalHeight || highest];
  const share = Math.min(1, widest / width, highest / height);
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [Math.max(1, Math.round(width * share)), Math.max(1, Math.round(height * share))];
  canvas.getContext("2d")!.drawImage(picture, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) => canvas.toBlob((png) => (png ? resolve(png) : reject(unread())), "image/png"));
}

const unread = () => new Error("This file is no picture that can be shown. Choose a PNG, a JPEG or an SVG.");
