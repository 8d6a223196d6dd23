import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/** A wire between two programs on this machine, which can be cut: what is under way then is lost, and nothing comes through until it is mended. */
export class Wire {
  private readonly sockets = new Set<Socket>();
  private cutNow = false;

  private constructor(private readonly server: Server) {}

  /** @param to where it leads, asked anew for each connection: programs that are started again may have another port */
  static async open(to: () => number): Promise<Wire> {
    const server = createServer();
    const wire = new Wire(server);
    server.on('connection', (near) => {
      if (wire.cutNow) return void near.destroy();
      const far = connect(to(), '127.0.0.1');
      for (const [one, other] of [[near, far], [far, near]] as const) {
        wire.sockets.add(one);
        one.on('error', () => other.destroy()).on('close', () => { wire.sockets.delete(one); other.destroy(); });
        one.pipe(other);
      }
    });
    await new Promise<void>((resolve, reject) => server.once('error', reject).listen(0, '127.0.0.1', resolve));
    return wire;
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  cut(): void {
    this.cutNow = true;
    for (const socket of this.sockets) socket.destroy();
  }

  mend(): void {
    this.cutNow = false;
  }

  close(): Promise<void> {
    this.cut();
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}
