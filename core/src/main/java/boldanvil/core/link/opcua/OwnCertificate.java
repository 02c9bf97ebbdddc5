package boldanvil.core.link.opcua;

import boldanvil.core.user.Log;
import boldanvil.core.user.UserFolder;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.GeneralSecurityException;
import java.security.KeyPair;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.cert.Certificate;
import java.security.cert.X509Certificate;
import java.time.Period;
import java.util.Optional;
import org.eclipse.milo.opcua.stack.core.util.SelfSignedCertificateBuilder;
import org.eclipse.milo.opcua.stack.core.util.SelfSignedCertificateGenerator;

/** This user's certificate as an OPC UA client, made when it is first needed and kept in the user's folder. */
public final class OwnCertificate {
    /** What the application calls itself. */
    public static final String URI = "urn:boldanvil:client";
    private static final String FILE = "opcua-client.p12";
    private static final String ALIAS = "client";
    private static final char[] STORE = "bold-anvil".toCharArray();
    private static OwnCertificate own;

    private final KeyPair keys;
    private final X509Certificate certificate;

    private OwnCertificate(KeyPair keys, X509Certificate certificate) {
        this.keys = keys;
        this.certificate = certificate;
    }

    /** The certificate of this user; where none can be kept, one for this process alone. */
    public static synchronized OwnCertificate get() {
        if (own == null) {
            Optional<Path> folder = UserFolder.find();
            try {
                own = folder.isPresent() ? kept(folder.get().resolve(FILE)) : fresh();
            } catch (IOException | GeneralSecurityException e) {
                Log.ignored(OwnCertificate.class, e, "The certificate cannot be stored; it is valid for this process only.");
                own = fresh();
            }
        }
        return own;
    }

    private static OwnCertificate fresh() {
        try {
            KeyPair keys = SelfSignedCertificateGenerator.generateRsaKeyPair(2048);
            return new OwnCertificate(keys, new SelfSignedCertificateBuilder(keys).setCommonName("Bold Anvil").setOrganization("Bold Anvil")
                    .setValidityPeriod(Period.ofYears(10)).setApplicationUri(URI).addDnsName("localhost").build());
        } catch (Exception e) {
            throw new IllegalStateException(e);
        }
    }

    private static OwnCertificate kept(Path file) throws IOException, GeneralSecurityException {
        var store = KeyStore.getInstance("PKCS12");
        if (Files.isRegularFile(file)) {
            try (InputStream in = Files.newInputStream(file)) {
                store.load(in, STORE);
                var certificate = (X509Certificate) store.getCertificate(ALIAS);
                certificate.checkValidity();
                return new OwnCertificate(new KeyPair(certificate.getPublicKey(), (PrivateKey) store.getKey(ALIAS, STORE)), certificate);
            } catch (IOException | GeneralSecurityException | NullPointerException e) {
                Log.ignored(OwnCertificate.class, e, "The stored certificate cannot be used; a new one is made.");
            }
        }
        var made = fresh();
        store.load(null, STORE);
        store.setKeyEntry(ALIAS, made.keys.getPrivate(), STORE, new Certificate[] {made.certificate});
        Path temporary = Files.createTempFile(file.getParent(), FILE, ".new", PosixFilePermissions.asFileAttribute(
                PosixFilePermissions.fromString("rw-------")));
        try (OutputStream out = Files.newOutputStream(temporary)) {
            store.store(out, STORE);
        }
        Files.move(temporary, file, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
        return made;
    }

    public KeyPair keys() {
        return keys;
    }

    public X509Certificate certificate() {
        return certificate;
    }
}
