type Message = MessageEvent<string | ArrayBuffer>;

/** Sockets that were opened before anybody listened, and what they have been told since. */
const ahead = new Map<string, { socket: WebSocket; told: Message[] }>();

/** The server begins to build a design when it is listened to: who comes for one listens before the page is there. */
export function listenAhead(design: string): void {
  const socket = opened(design);
  const told: Message[] = [];
  socket.onmessage = (message: Message) => told.push(message);
  ahead.set(design, { socket, told });
}

/** The socket of a design, and what it has told already. */
export function socketOf(design: string): { socket: WebSocket; told: Message[] } {
  const found = ahead.get(design);
  ahead.delete(design);
  return found && found.socket.readyState <= WebSocket.OPEN ? found : { socket: opened(design), told: [] };
}

function opened(design: string): WebSocket {
  const scheme = location.protocol === "https:" ? "wss" : "ws";
  const socket = new WebSocket(`${scheme}://${location.host}/api/designs/${design}/live`);
  socket.binaryType = "arraybuffer";
  return socket;
}
