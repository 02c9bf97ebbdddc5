package boldanvil.core.link;

import boldanvil.core.finding.FindingException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.regex.Pattern;

/**
 * Where a device answers.
 *
 * @param protocol name of a {@link LinkProtocol}, such as {@code xcp}
 * @param host name or address of the host
 * @param port from 1 to 65535
 */
public record Endpoint(String protocol, String host, int port) {
    private static final Pattern FORM = Pattern.compile("([a-z][a-z0-9]*)://([A-Za-z0-9.\\-]+|\\[[0-9A-Fa-f:]+]):([0-9]{1,5})");

    /** A port of this machine. */
    public static Endpoint local(String protocol, int port) {
        return new Endpoint(protocol, InetAddress.getLoopbackAddress().getHostAddress(), port);
    }

    /**
     * Reads {@code protocol://host:port}.
     *
     * @throws FindingException when the text is of another form
     */
    public static Endpoint parse(String text) {
        var m = FORM.matcher(text.strip());
        int port = m.matches() ? Integer.parseInt(m.group(3)) : 0;
        if (port < 1 || port > 65_535) {
            throw FindingException.of(text, "This is not the address of a device.",
                    "Write protocol, host and port, such as xcp://192.168.0.20:5555.");
        }
        return new Endpoint(m.group(1), m.group(2), port);
    }

    public InetSocketAddress address() {
        return new InetSocketAddress(host, port);
    }

    @Override
    public String toString() {
        return protocol + "://" + host + ":" + port;
    }
}
