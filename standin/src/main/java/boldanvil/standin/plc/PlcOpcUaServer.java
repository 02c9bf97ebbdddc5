package boldanvil.standin.plc;

import static org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.Unsigned.uint;

import boldanvil.core.user.Log;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.cert.X509Certificate;
import java.util.LinkedHashSet;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.eclipse.milo.opcua.sdk.server.EndpointConfig;
import org.eclipse.milo.opcua.sdk.server.OpcUaServer;
import org.eclipse.milo.opcua.sdk.server.OpcUaServerConfig;
import org.eclipse.milo.opcua.sdk.server.OpcUaServerConfigLimits;
import org.eclipse.milo.opcua.sdk.server.identity.AnonymousIdentityValidator;
import org.eclipse.milo.opcua.sdk.server.identity.CompositeValidator;
import org.eclipse.milo.opcua.sdk.server.identity.UsernameIdentityValidator;
import org.eclipse.milo.opcua.stack.core.security.SecurityPolicy;
import org.eclipse.milo.opcua.stack.core.transport.TransportProfile;
import org.eclipse.milo.opcua.stack.core.types.builtin.DateTime;
import org.eclipse.milo.opcua.stack.core.types.builtin.LocalizedText;
import org.eclipse.milo.opcua.stack.core.types.builtin.unsigned.UInteger;
import org.eclipse.milo.opcua.stack.core.types.enumerated.MessageSecurityMode;
import org.eclipse.milo.opcua.stack.core.types.structured.BuildInfo;
import org.eclipse.milo.opcua.stack.transport.server.tcp.OpcTcpServerTransport;
import org.eclipse.milo.opcua.stack.transport.server.tcp.OpcTcpServerTransportConfig;

/** OPC UA of the PLC: without security and with Basic256Sha256, for anyone and for its users. */
final class PlcOpcUaServer implements AutoCloseable {
    private static final int MOST_ITEMS = 100_000;

    private final PlcDevice device;
    private final int port;
    private final OpcUaServer server;
    private final PlcNamespace namespace;
    private final PlcCertificates certificates;
    private final CableGate gate;

    PlcOpcUaServer(PlcDevice device) throws IOException {
        this.device = device;
        gate = new CableGate(device);
        var settings = device.settings();
        port = settings.opcUaPort() == 0 ? PlcModbusServer.free(settings.bindAddress()) : settings.opcUaPort();
        try {
            certificates = new PlcCertificates(settings.folder());
            var config = OpcUaServerConfig.builder().setApplicationName(LocalizedText.english("Tongs PLC-24"))
                    .setApplicationUri(PlcCertificates.URI).setProductUri(PlcCertificates.URI)
                    .setBuildInfo(new BuildInfo(PlcCertificates.URI, "Bold Anvil", "Tongs PLC-24", "1.0", "1", DateTime.MIN_VALUE))
                    .setCertificateManager(certificates.manager()).setLimits(new Limits())
                    .setIdentityValidator(new CompositeValidator(AnonymousIdentityValidator.INSTANCE,
                            new UsernameIdentityValidator(c -> isUser(c.getUsername(), c.getPassword()))))
                    .setEndpoints(endpoints()).build();
            server = new OpcUaServer(config, profile -> new OpcTcpServerTransport(OpcTcpServerTransportConfig.newBuilder()
                    .setChannelPipelineCustomizer(gate::watch).build()));
            namespace = new PlcNamespace(server, device);
            namespace.startup();
            server.startup().get(20, TimeUnit.SECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IOException(e);
        } catch (IOException e) {
            throw e;
        } catch (Exception e) {
            throw new IOException("The OPC UA port " + port + " cannot be opened: " + e.getMessage(), e);
        }
        device.onProgram(namespace::rebuild);
        namespace.rebuild();
    }

    private boolean isUser(String name, String password) {
        String wanted = device.settings().users().get(name);
        return wanted != null && MessageDigest.isEqual(wanted.getBytes(StandardCharsets.UTF_8),
                password.getBytes(StandardCharsets.UTF_8));
    }

    private Set<EndpointConfig> endpoints() {
        Set<EndpointConfig> all = new LinkedHashSet<>();
        var plain = EndpointConfig.newBuilder().setTransportProfile(TransportProfile.TCP_UASC_UABINARY)
                .setBindAddress(device.settings().bindAddress()).setBindPort(port).setHostname(device.settings().bindAddress())
                .setCertificate(certificates.own()).addTokenPolicies(OpcUaServerConfig.USER_TOKEN_POLICY_ANONYMOUS,
                        OpcUaServerConfig.USER_TOKEN_POLICY_USERNAME);
        all.add(plain.copy().setSecurityPolicy(SecurityPolicy.None).setSecurityMode(MessageSecurityMode.None).build());
        all.add(plain.copy().setSecurityPolicy(SecurityPolicy.Basic256Sha256).setSecurityMode(MessageSecurityMode.SignAndEncrypt).build());
        return all;
    }

    int port() {
        return port;
    }

    void trust(X509Certificate certificate) {
        certificates.trust(certificate);
    }

    X509Certificate certificate() {
        return certificates.own();
    }

    /** Ends all connections, as a pulled cable would. */
    void cut() {
        gate.cut();
    }

    /** Room for a large program. */
    private static final class Limits implements OpcUaServerConfigLimits {
        @Override
        public Double getMinPublishingInterval() {
            return 5.0;
        }

        @Override
        public Double getMinSupportedSampleRate() {
            return 1.0;
        }

        @Override
        public UInteger getMaxMonitoredItems() {
            return uint(MOST_ITEMS);
        }

        @Override
        public UInteger getMaxMonitoredItemsPerSession() {
            return uint(MOST_ITEMS);
        }

        @Override
        public UInteger getMaxSessions() {
            return uint(CableGate.MOST_CONNECTIONS);
        }
    }

    @Override
    public void close() {
        cut();
        try {
            namespace.shutdown();
            server.shutdown().get(5, TimeUnit.SECONDS);
        } catch (ExecutionException | TimeoutException e) {
            Log.ignored(PlcOpcUaServer.class, e, "The OPC UA server cannot be closed in order.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
