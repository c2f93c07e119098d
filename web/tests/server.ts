/** The server as the tests answer for it: the client takes hold of `fetch` once, when it is made. */
export const server = {
  answer: (request: Request): Promise<Response> =>
    Promise.reject(new Error(`nobody answers ${request.url}`)),
};
