/**
 * What a form brings.
 * @throws Response 400 when the request is no form: only other programs send such
 */
export async function formOf(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    throw Response.json(
      {
        code: 'form.unreadable',
        message: 'This is not a form that could be read. Reload the page and try again.',
      },
      { status: 400 },
    );
  }
}
