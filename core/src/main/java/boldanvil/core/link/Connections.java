package boldanvil.core.link;

import java.io.IOException;
import java.net.ConnectException;
import java.net.InetSocketAddress;
import java.net.Socket;

/** Connects to a peer. */
public final class Connections {
    private Connections() {}

    /**
     * Connects, and refuses a connection of the socket with itself: where nobody listens at a port of this machine, TCP may pick that very
     * port for the near end and open it from both sides at once (RFC 9293, 3.5), after which everything sent is heard as an answer.
     */
    public static void open(Socket socket, InetSocketAddress address, int timeoutMillis) throws IOException {
        socket.connect(address, timeoutMillis);
        if (socket.getLocalPort() == address.getPort() && socket.getLocalAddress().equals(socket.getInetAddress())) {
            socket.close();
            throw new ConnectException("Connection refused");
        }
        socket.setTcpNoDelay(true);
    }
}
