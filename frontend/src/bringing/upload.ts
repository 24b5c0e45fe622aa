import { ApiError, type Problem } from "../api/client";

export const MOST_BYTES = 200_000_000;

/** Send one file; tells how much has gone, 0 to 1, and answers what the server made of it. */
export function sendFile<T>(url: string, file: File, onShare: (share: number) => void): Promise<T> {
  if (file.size > MOST_BYTES)
    return Promise.reject(
      new ApiError(413, null, `${file.name} has ${Math.round(file.size / 1e6)} MB; at most 200 MB`),
    );
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.responseType = "json";
    request.upload.onprogress = ({ loaded, total }) => onShare(total > 0 ? loaded / total : 0);
    request.onerror = () => reject(new ApiError(0, null, "The server does not answer"));
    request.onload = () => {
      if (request.status >= 200 && request.status < 300) return resolve(request.response as T);
      const problem = request.response as Problem | null;
      const words = problem?.detail ?? `The server answered ${request.status}`;
      reject(new ApiError(request.status, problem, words));
    };
    const form = new FormData();
    form.append("file", file);
    request.send(form);
  });
}
