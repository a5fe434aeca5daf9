import { createServer } from 'node:http';

/** A door for the browser tests, on loopback: lets them stop the database and bring it back. */
export function serveControl(postgres) {
  const server = createServer((request, response) => {
    if (!postgres.private) response.writeHead(409).end('not a private cluster');
    else {
      if (request.url === '/pause') postgres.control.pause();
      if (request.url === '/resume') postgres.control.resume();
      response.end('done');
    }
  });
  return new Promise((resolve) => {
    server.listen(0, '127.0.0.1', () => resolve({ address: `http://127.0.0.1:${server.address().port}`, close: () => server.close() }));
  });
}
