package boldanvil.core.farm;

import boldanvil.core.finding.FindingException;
import boldanvil.core.user.TemporaryFiles;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.logging.Level;
import java.util.logging.Logger;
import javax.net.ssl.SSLException;
import org.apache.ignite.Ignite;
import org.apache.ignite.IgniteException;
import org.apache.ignite.Ignition;
import org.apache.ignite.configuration.DataRegionConfiguration;
import org.apache.ignite.configuration.DataStorageConfiguration;
import org.apache.ignite.configuration.IgniteConfiguration;
import org.apache.ignite.failure.StopNodeFailureHandler;
import org.apache.ignite.logger.slf4j.Slf4jLogger;
import org.apache.ignite.spi.communication.tcp.TcpCommunicationSpi;
import org.apache.ignite.spi.discovery.tcp.TcpDiscoverySpi;
import org.apache.ignite.spi.discovery.tcp.ipfinder.vm.TcpDiscoveryVmIpFinder;

/** How the engine is set up: TLS with one key, few threads, little memory, no other services, nothing said on the console. */
final class Node {
    /** Number of runs a worker does at the same time; a node without it is no worker. */
    static final String SLOTS = "boldanvil.slots";
    /** What a node calls itself. */
    static final String NAME = "boldanvil.name";
    /** Ports between finding each other and messages of one node. */
    static final int MESSAGE_PORT_OFFSET = 100;
    private static final int CLIENT_PORTS = 100;
    private static final long MEMORY = 32L << 20;
    private static final int FAILURE_MILLIS = 10_000;
    private static final int REACH_MILLIS = 3_000;
    private static final int JOIN_MILLIS = 20_000;
    /** What the engine says beside warnings is of no use here; the logger is kept so that its level is. */
    private static final Logger ENGINE = Logger.getLogger("org.apache.ignite");

    private Node() {}

    /**
     * Starts a node.
     *
     * @param listen address of this machine on which others reach it
     * @param port first port; 0 for a study, which nobody looks for
     * @param others where workers are, as {@code host:port}
     * @param attributes what others see of it
     * @throws FindingException when it does not start
     */
    static Ignite start(FarmKey key, String listen, int port, List<String> others, Map<String, Object> attributes) {
        boolean isWorker = attributes.containsKey(SLOTS);
        if (!isWorker && others.stream().noneMatch(Node::isReachable)) {
            throw nobody(String.join(", ", others));
        }
        requireOpen();
        ENGINE.setLevel(Level.WARNING);
        System.setProperty("IGNITE_QUIET", "false");
        System.setProperty("IGNITE_NO_ASCII", "true");
        System.setProperty("IGNITE_UPDATE_NOTIFIER", "false");
        System.setProperty("IGNITE_NO_SHUTDOWN_HOOK", "true");
        System.setProperty("IGNITE_PERFORMANCE_SUGGESTIONS_DISABLED", "true");
        var c = new IgniteConfiguration();
        c.setIgniteInstanceName("bold-anvil-" + port + "-" + System.nanoTime());
        c.setGridLogger(new Slf4jLogger());
        c.setWorkDirectory(folder().toString());
        c.setClientMode(!isWorker);
        c.setLocalHost(listen);
        c.setPeerClassLoadingEnabled(false);
        c.setMetricsLogFrequency(0);
        // What goes wrong stops this node, never the program.
        c.setFailureHandler(new StopNodeFailureHandler());
        c.setConnectorConfiguration(null);
        c.setClientConnectorConfiguration(null);
        c.setFailureDetectionTimeout(FAILURE_MILLIS);
        c.setClientFailureDetectionTimeout(FAILURE_MILLIS);
        c.setSslContextFactory(key::context);
        c.setUserAttributes(attributes);
        if (isWorker) {
            c.setPublicThreadPoolSize((Integer) attributes.get(SLOTS));
        }
        c.setDataStorageConfiguration(new DataStorageConfiguration().setDefaultDataRegionConfiguration(
                new DataRegionConfiguration().setInitialSize(MEMORY).setMaxSize(MEMORY)));
        var discovery = new TcpDiscoverySpi();
        discovery.setIpFinder(new TcpDiscoveryVmIpFinder(!isWorker).setAddresses(isWorker && others.isEmpty()
                ? List.of(listen + ":" + port) : others));
        discovery.setJoinTimeout(JOIN_MILLIS);
        if (isWorker) {
            discovery.setLocalPort(port);
            discovery.setLocalPortRange(0);
        }
        c.setDiscoverySpi(discovery);
        var communication = new TcpCommunicationSpi();
        communication.setLocalPort(isWorker ? port + MESSAGE_PORT_OFFSET : TcpCommunicationSpi.DFLT_PORT);
        communication.setLocalPortRange(isWorker ? 0 : CLIENT_PORTS);
        c.setCommunicationSpi(communication);
        try {
            return Ignition.start(c);
        } catch (IgniteException e) {
            throw refused(e, isWorker ? listen + ":" + port : String.join(", ", others));
        }
    }

    /** Adds an address, {@code host:port}, to those at which a node looks for others. */
    static void addAddress(Ignite node, String address) {
        ((TcpDiscoverySpi) node.configuration().getDiscoverySpi()).getIpFinder().registerAddresses(List.of(address(address)));
    }

    private static FindingException refused(IgniteException e, String place) {
        for (Throwable t = e; t != null; t = t.getCause()) {
            String m = String.valueOf(t.getMessage()).toLowerCase(Locale.ROOT);
            if (t instanceof SSLException || m.contains("ssl") || m.contains("secure connection")) {
                return FindingException.of(place, "The workers do not accept the key of this side.",
                        "Use the key file with which the workers were started.");
            }
            if (m.contains("failed to bind") || m.contains("address already in use") || m.contains("failed to find free port")
                    || m.contains("failed to initialize tcp server")) {
                return FindingException.of(place, "The port is in use.", "Choose another one with --port.");
            }
        }
        return nobody(place);
    }

    private static FindingException nobody(String place) {
        return FindingException.of(place, "No worker answers there.", "Start one with: bold-anvil worker --key FILE --port PORT.");
    }

    /** Whether something listens there; the engine itself would wait for long. */
    private static boolean isReachable(String address) {
        try (var socket = new Socket()) {
            socket.connect(address(address), REACH_MILLIS);
            return true;
        } catch (IOException e) {
            return false;
        }
    }

    private static InetSocketAddress address(String text) {
        int colon = text.lastIndexOf(':');
        try {
            return new InetSocketAddress(text.substring(0, Math.max(0, colon)), Integer.parseInt(text.substring(colon + 1)));
        } catch (IllegalArgumentException e) {
            throw FindingException.of(text, "This is not the address of a worker.", "Write host and port, such as 192.168.4.7:47500.");
        }
    }

    /** The engine reaches into packages of Java that are closed unless the launcher opens them. */
    private static void requireOpen() {
        if (!Object.class.getModule().isOpen("java.nio", Node.class.getModule())) {
            throw FindingException.of("workers", "Java was started without the options that workers need.",
                    "Start with the command bold-anvil, which sets them.");
        }
    }

    private static Path folder() {
        try {
            return TemporaryFiles.folder("farm");
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
