package boldanvil.core.link;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.net.ConnectException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import org.junit.jupiter.api.Test;

class ConnectionsTest {
    private static InetSocketAddress at(int port) {
        return new InetSocketAddress(InetAddress.getLoopbackAddress(), port);
    }

    @Test
    void aSocketThatMeetsItselfIsRefused() throws IOException {
        int free;
        try (var probe = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
            free = probe.getLocalPort();
        }
        try (var socket = new Socket()) {
            // The near end at the port that is called: both ends are one.
            socket.bind(at(free));
            assertThatThrownBy(() -> Connections.open(socket, at(free), 1_000)).isInstanceOf(ConnectException.class);
            assertThat(socket.isClosed()).isTrue();
        }
    }

    @Test
    void aPeerThatListensIsMet() throws IOException {
        try (var server = new ServerSocket(0, 1, InetAddress.getLoopbackAddress()); var socket = new Socket()) {
            Connections.open(socket, at(server.getLocalPort()), 1_000);
            assertThat(socket.isConnected()).isTrue();
            assertThat(socket.getTcpNoDelay()).isTrue();
        }
    }
}
