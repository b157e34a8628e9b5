/** Headers of a ZIP that a browser saves. @param name as a person gave it; signs that no file may have are left out */
export function attachment(name: string, ending: string): Record<string, string> {
  const file = `${
    name
      .replace(/[/\\:*?"<>|\p{C}]/gu, ' ')
      .replace(/ +/g, ' ')
      .trim() || 'Dolomite'
  }${ending}`;
  return {
    'content-type': 'application/zip',
    // RFC 6266, with the name in UTF-8 (RFC 8187).
    'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file)}`,
  };
}
