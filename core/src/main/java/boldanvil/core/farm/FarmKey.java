package boldanvil.core.farm;

import boldanvil.core.files.SafeFile;
import boldanvil.core.finding.FindingException;
import boldanvil.core.user.UserFolder;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyPairGenerator;
import java.security.KeyStore;
import java.security.PrivateKey;
import java.security.SecureRandom;
import java.security.cert.Certificate;
import java.security.cert.CertificateFactory;
import java.security.spec.ECGenParameterSpec;
import java.security.spec.PKCS8EncodedKeySpec;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.Date;
import java.util.HexFormat;
import java.util.regex.Pattern;
import javax.net.ssl.KeyManagerFactory;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManagerFactory;
import org.bouncycastle.asn1.x500.X500Name;
import org.bouncycastle.cert.jcajce.JcaX509v3CertificateBuilder;
import org.bouncycastle.operator.OperatorCreationException;
import org.bouncycastle.operator.jcajce.JcaContentSignerBuilder;

/**
 * The secret that workers and studies share: a private key and its certificate in one PEM file. Each side proves that it has the file, and
 * accepts nobody who has not.
 */
public final class FarmKey {
    private static final long MOST_BYTES = 64 << 10;
    private static final String ALIAS = "farm";
    private static final char[] NO_PASSWORD = new char[0];
    private static final Duration VALID = Duration.ofDays(3650);
    private static final String CURE = "Create one with: bold-anvil worker --new-key FILE, and copy it to each machine.";

    private final PrivateKey key;
    private final Certificate certificate;

    private FarmKey(PrivateKey key, Certificate certificate) {
        this.key = key;
        this.certificate = certificate;
    }

    /**
     * Makes a new key and writes it, readable by its owner alone.
     *
     * @throws FindingException when the file exists or cannot be written
     */
    public static FarmKey create(Path file) {
        try {
            var generator = KeyPairGenerator.getInstance("EC");
            generator.initialize(new ECGenParameterSpec("secp256r1"));
            var pair = generator.generateKeyPair();
            var name = new X500Name("CN=Bold Anvil workers");
            Instant now = Instant.now();
            // A clock that is a day slow accepts it as well.
            byte[] certificate = new JcaX509v3CertificateBuilder(name, new BigInteger(120, new SecureRandom()),
                    Date.from(now.minus(Duration.ofDays(1))), Date.from(now.plus(VALID)), name, pair.getPublic())
                    .build(new JcaContentSignerBuilder("SHA256withECDSA").build(pair.getPrivate())).getEncoded();
            if (file.toAbsolutePath().getParent() != null) {
                Files.createDirectories(file.toAbsolutePath().getParent());
            }
            Files.createFile(file);
            UserFolder.restrict(file, "rw-------");
            Files.writeString(file, pem("PRIVATE KEY", pair.getPrivate().getEncoded()) + pem("CERTIFICATE", certificate));
        } catch (FileAlreadyExistsException e) {
            throw FindingException.of(file.toString(), "The file already exists.", "Name a new file; a key that is in use must stay.");
        } catch (IOException e) {
            throw FindingException.of(file.toString(), "The key cannot be written: " + e.getMessage() + ".", "Name a file in a folder "
                    + "that can be written.");
        } catch (GeneralSecurityException | OperatorCreationException e) {
            throw new IllegalStateException(e);
        }
        return read(file);
    }

    /** @throws FindingException when the file has no key */
    public static FarmKey read(Path file) {
        if (!Files.isRegularFile(file)) {
            throw FindingException.of(file.toString(), "There is no such key file.", CURE);
        }
        String text = SafeFile.text(file, MOST_BYTES);
        try {
            var key = KeyFactory.getInstance("EC").generatePrivate(new PKCS8EncodedKeySpec(section(text, "PRIVATE KEY")));
            var certificate = CertificateFactory.getInstance("X.509").generateCertificate(
                    new ByteArrayInputStream(section(text, "CERTIFICATE")));
            return new FarmKey(key, certificate);
        } catch (GeneralSecurityException | IllegalArgumentException e) {
            throw FindingException.of(file.toString(), "This is not a key file: " + e.getMessage() + ".", CURE);
        }
    }

    private static String pem(String what, byte[] bytes) {
        return "-----BEGIN " + what + "-----\n" + Base64.getMimeEncoder(64, "\n".getBytes(StandardCharsets.US_ASCII)).encodeToString(bytes)
                + "\n-----END " + what + "-----\n";
    }

    private static byte[] section(String text, String what) {
        var m = Pattern.compile("-----BEGIN " + what + "-----(.*?)-----END " + what + "-----", Pattern.DOTALL).matcher(text);
        if (!m.find()) {
            throw new IllegalArgumentException("it has no section '" + what + "'");
        }
        return Base64.getMimeDecoder().decode(m.group(1));
    }

    /** TLS with this certificate on both sides, and no other accepted. */
    SSLContext context() {
        try {
            var store = KeyStore.getInstance("PKCS12");
            store.load(null, NO_PASSWORD);
            store.setKeyEntry(ALIAS, key, NO_PASSWORD, new Certificate[] {certificate});
            var keys = KeyManagerFactory.getInstance(KeyManagerFactory.getDefaultAlgorithm());
            keys.init(store, NO_PASSWORD);
            var trusted = KeyStore.getInstance("PKCS12");
            trusted.load(null, NO_PASSWORD);
            trusted.setCertificateEntry(ALIAS, certificate);
            var trust = TrustManagerFactory.getInstance(TrustManagerFactory.getDefaultAlgorithm());
            trust.init(trusted);
            var context = SSLContext.getInstance("TLSv1.3");
            context.init(keys.getKeyManagers(), trust.getTrustManagers(), null);
            return context;
        } catch (GeneralSecurityException | IOException e) {
            throw new IllegalStateException(e);
        }
    }

    /** What tells this key from others, without giving it away. */
    @Override
    public String toString() {
        try {
            byte[] hash = java.security.MessageDigest.getInstance("SHA-256").digest(certificate.getEncoded());
            return HexFormat.of().formatHex(hash, 0, 8);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }
}
