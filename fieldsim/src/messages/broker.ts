import { Aedes } from 'aedes';
import { createServer, type Server, type Socket } from 'node:net';

/** The building's MQTT broker, on loopback. */
export class Broker {
  private aedes: Aedes | null = null;
  private server: Server | null = null;
  private readonly sockets = new Set<Socket>();

  constructor(private readonly port: number) {}

  async start(): Promise<void> {
    const aedes = await Aedes.createBroker();
    // A client that misbehaves is cut off by the broker; that is no event of the building.
    aedes.on('clientError', () => undefined);
    aedes.on('connectionError', () => undefined);
    const server = createServer((socket) => {
      this.sockets.add(socket);
      socket.on('close', () => this.sockets.delete(socket));
      aedes.handle(socket);
    });
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(this.port, '127.0.0.1', () => resolve());
    });
    this.aedes = aedes;
    this.server = server;
  }

  async stop(): Promise<void> {
    const { aedes, server } = this;
    this.aedes = null;
    this.server = null;
    if (!aedes || !server) return;
    const closed = new Promise<void>((resolve) => server.close(() => resolve()));
    for (const socket of this.sockets) socket.destroy();
    await new Promise<void>((resolve) => aedes.close(() => resolve()));
    await closed;
  }
}
