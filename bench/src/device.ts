import { createServer } from 'node:net';

// A Modbus TCP device: every register holds half of a float near 230. It answers at once, or after some milliseconds as
// meters do, and runs in a process of its own, so that it does not share Loka's core with what is measured.
const [, , port, delay] = process.argv.map(Number);
const server = createServer((socket) => {
  socket.setNoDelay(true);
  socket.on('error', () => undefined);
  socket.on('data', (data) => {
    for (let at = 0; at + 12 <= data.length; at += 12) {
      const count = data.readUInt16BE(at + 10);
      const answer = Buffer.alloc(9 + 2 * count);
      data.copy(answer, 0, at, at + 4);
      answer.writeUInt16BE(3 + 2 * count, 4);
      answer[6] = data[at + 6] as number;
      answer[7] = data[at + 7] as number;
      answer[8] = 2 * count;
      for (let i = 0; i < count; i += 2) {
        answer.writeUInt16BE(0x4366, 9 + 2 * i);
        if (i + 1 < count) answer.writeUInt16BE(0x2666, 11 + 2 * i);
      }
      if (delay) setTimeout(() => socket.write(answer), delay);
      else socket.write(answer);
    }
  });
});
server.listen(port, '127.0.0.1', () => process.send?.('ready'));
