import { ApiError, type Problem } from "../api";

export const MOST_BYTES = 200_000_000;

interface Received<T> {
  answer: T;
  status: number;
}

/** Send one file; tells how much has gone, 0 to 1, and answers what the server made of it. */
export const sendFile = async <T>(url: string, file: File, onShare: (share: number) => void) =>
  (await received<T>(url, file, onShare)).answer;

/** As ``sendFile``, with the status of the answer. */
export function received<T>(
  url: string,
  file: File,
  onShare?: (share: number) => void,
): Promise<Received<T>> {
  if (file.size > MOST_BYTES)
    return Promise.reject(
      new ApiError(413, null, `${file.name} has ${Math.round(file.size / 1e6)} MB; at most 200 MB`),
    );
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", url);
    request.responseType = "json";
    request.upload.onprogress = ({ loaded, total }) => onShare?.(total > 0 ? loaded / total : 0);
    request.onerror = () => reject(new ApiError(0, null, "The server does not answer"));
    request.onload = () => {
      const { status } = request;
      if (status >= 200 && status < 300) return resolve({ answer: request.response as T, status });
      const problem = request.response as Problem | null;
      const words = problem?.detail ?? `The server answered ${status}`;
      reject(new ApiError(status, problem, words));
    };
    const form = new FormData();
    form.append("file", file);
    request.send(form);
  });
}
