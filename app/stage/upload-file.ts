/**
 * Sends a file as it is, with progress, which fetch cannot tell.
 * @throws Error with the server's words when it was refused
 */
export function uploadFile(
  url: string,
  file: File,
  onProgress: (share: number) => void,
): Promise<{ id: string; mime: string }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open('POST', url);
    request.setRequestHeader('x-file-name', encodeURIComponent(file.name));
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.responseType = 'json';
    request.upload.onprogress = ({ loaded, total }) => onProgress(total > 0 ? loaded / total : 0);
    request.onload = () => {
      const answer = request.response as { id: string; mime: string; message?: string } | null;
      if (request.status < 300 && answer) resolve(answer);
      else reject(new Error(answer?.message ?? `The file was not taken (status ${request.status}).`));
    };
    request.onerror = () =>
      reject(new Error('The studio server did not take the file: check that it runs, then try again.'));
    request.send(file);
  });
}
