package boldanvil.standin.plc;

import java.nio.file.Files;
import java.nio.file.Path;
import java.security.KeyPair;
import java.security.cert.X509Certificate;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.eclipse.milo.opcua.stack.core.NodeIds;
import org.eclipse.milo.opcua.stack.core.security.CertificateManager;
import org.eclipse.milo.opcua.stack.core.security.CertificateStore;
import org.eclipse.milo.opcua.stack.core.security.DefaultApplicationGroup;
import org.eclipse.milo.opcua.stack.core.security.DefaultCertificateManager;
import org.eclipse.milo.opcua.stack.core.security.DefaultServerCertificateValidator;
import org.eclipse.milo.opcua.stack.core.security.FileBasedTrustListManager;
import org.eclipse.milo.opcua.stack.core.security.KeyStoreCertificateStore;
import org.eclipse.milo.opcua.stack.core.security.MemoryCertificateQuarantine;
import org.eclipse.milo.opcua.stack.core.security.MemoryCertificateStore;
import org.eclipse.milo.opcua.stack.core.security.MemoryTrustListManager;
import org.eclipse.milo.opcua.stack.core.security.RsaSha256CertificateFactory;
import org.eclipse.milo.opcua.stack.core.security.TrustListManager;
import org.eclipse.milo.opcua.stack.core.util.SelfSignedCertificateBuilder;
import org.eclipse.milo.opcua.stack.core.util.validation.ValidationCheck;

/** The PLC's own certificate, and those of the clients it trusts. */
final class PlcCertificates {
    /** What the PLC calls itself. */
    static final String URI = "urn:boldanvil:tongs-plc-24";
    private static final char[] STORE = "tongs".toCharArray();

    private final TrustListManager trusted;
    private final CertificateManager manager;
    private final X509Certificate own;

    /** @param folder where they are kept; null for nowhere */
    PlcCertificates(Path folder) throws Exception {
        var quarantine = new MemoryCertificateQuarantine();
        CertificateStore store;
        if (folder == null) {
            trusted = new MemoryTrustListManager();
            store = new MemoryCertificateStore();
        } else {
            Files.createDirectories(folder);
            trusted = FileBasedTrustListManager.createAndInitialize(folder.resolve("pki"));
            store = KeyStoreCertificateStore.createAndInitialize(new KeyStoreCertificateStore.Settings(folder.resolve("certificate.p12"),
                    () -> STORE, _ -> STORE));
        }
        var factory = new RsaSha256CertificateFactory() {
            @Override
            protected X509Certificate[] createRsaSha256CertificateChain(KeyPair keys) throws Exception {
                return new X509Certificate[] {new SelfSignedCertificateBuilder(keys).setCommonName("Tongs PLC-24").setApplicationUri(URI)
                        .addDnsName("localhost").addIpAddress("127.0.0.1").build()};
            }
        };
        Set<ValidationCheck> checks = EnumSet.of(ValidationCheck.VALIDITY, ValidationCheck.APPLICATION_URI);
        var group = DefaultApplicationGroup.createAndInitialize(trusted, store, factory,
                new DefaultServerCertificateValidator(trusted, checks, quarantine));
        manager = new DefaultCertificateManager(quarantine, List.of(group));
        own = group.getCertificateChain(NodeIds.RsaSha256ApplicationCertificateType).orElseThrow()[0];
    }

    CertificateManager manager() {
        return manager;
    }

    X509Certificate own() {
        return own;
    }

    /** Lets a client with this certificate in. */
    void trust(X509Certificate certificate) {
        trusted.addTrustedCertificate(certificate);
    }
}
