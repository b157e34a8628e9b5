/**
 * Sends a file as it is, with progress, which fetch cannot tell.
 * @returns what the server answers
 * @throws Error with the server's words when it was refused
 */
export function sendFile<T>(
  url: string,
  file: Blob,
  headers: Readonly<Record<string, string>>,
  onProgress: (share: number) => void,
  signal?: AbortSignal,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', url);
    for (const [name, value] of Object.entries(headers))
      request.setRequestHeader(name, encodeURIComponent(value));
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      const answer = request.response as (T & { message?: string }) | null;
      if (request.status < 300 && answer) resolve(answer);
      else reject(new Error(answer?.message ?? `The file was not taken (status ${request.status}).`));
    };
    request.onerror = () =>
      reject(new Error('The studio server did not take the file: check that it runs, then try again.'));
    request.onabort = () => reject(new Error('Cancelled.'));
    signal?.addEventListener('abort', () => request.abort());
    request.send(file);
  });
}
