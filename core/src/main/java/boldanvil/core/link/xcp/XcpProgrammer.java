package boldanvil.core.link.xcp;

import boldanvil.core.finding.FindingException;
import boldanvil.core.finding.Place;
import boldanvil.core.link.Connections;
import boldanvil.core.user.Log;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import boldanvil.core.link.DeviceLink;
import java.util.Set;
import java.util.function.BooleanSupplier;
import java.util.function.DoubleConsumer;
import java.util.zip.CRC32;

/**
 * Puts images on a device with the programming commands of XCP (ASAM MCD-1 XCP 1.5, part 2). Every failure is reported within two
 * seconds, with its cause and a cure; the device is then without a whole image and does not run.
 */
public final class XcpProgrammer implements DeviceLink {
    private static final int ANSWER_MILLIS = 1_200;
    private static final int BUSY_MILLIS = 1_500;
    private static final int PIECE = Xcp.MAX_CTO - 2;

    private final Place place;
    private final Socket socket = new Socket();
    private final DataInputStream in;
    private final OutputStream out;
    private int counter;

    /**
     * @param place how findings name the device
     * @param token the rig's token, from which the key to programming follows
     */
    public XcpProgrammer(Place place, InetSocketAddress address, String token) {
        this.place = place;
        try {
            Connections.open(socket, address, ANSWER_MILLIS);
            socket.setSoTimeout(ANSWER_MILLIS);
            in = new DataInputStream(new BufferedInputStream(socket.getInputStream()));
            out = new BufferedOutputStream(socket.getOutputStream());
        } catch (IOException e) {
            close();
            throw unplugged();
        }
        try {
            command(Xcp.CONNECT, 0);
            byte[] r = command(Xcp.GET_SEED, 0, XcpAccess.PROGRAMMING);
            byte[] key = XcpAccess.key(token, XcpAccess.PROGRAMMING, java.util.Arrays.copyOfRange(r, 2, r.length));
            command(ByteBuffer.allocate(2 + key.length).put((byte) Xcp.UNLOCK).put((byte) key.length).put(key).array());
        } catch (FindingException e) {
            close();
            throw e;
        }
    }

    private FindingException unplugged() {
        return FindingException.of(place, "The device does not respond.", "Check that it has power and that its cable is plugged in.");
    }

    private FindingException gone() {
        return FindingException.of(place, "The device stopped responding during the download; its supply may have failed.",
                "Check supply and cable, then download again. The image on the device is incomplete, so it does not run.");
    }

    private byte[] command(int... bytes) {
        byte[] packet = new byte[bytes.length];
        for (int i = 0; i < bytes.length; i++) {
            packet[i] = (byte) bytes[i];
        }
        return command(packet);
    }

    /** Sends a command, again and again while the device is busy, and returns its positive response. */
    private byte[] command(byte[] packet) {
        long end = System.nanoTime() + BUSY_MILLIS * 1_000_000L;
        while (true) {
            byte[] r = exchange(packet);
            if ((r[0] & 0xFF) != Xcp.ERROR) {
                return r;
            }
            int code = r.length > 1 ? r[1] & 0xFF : 0;
            if (code != Xcp.ERR_CMD_BUSY) {
                throw FindingException.of(place, "The device rejected a command: " + Xcp.error(code) + ".", code == Xcp.ERR_MEMORY_OVERFLOW
                        ? "Remove blocks from the part, or choose a board with more flash." : "Reset the device, then download again.");
            }
            if (System.nanoTime() > end) {
                throw FindingException.of(place, "The link is busy: the device has postponed the same command for " + BUSY_MILLIS / 1000.0
                        + " s.",
                        "Close other programs that talk to the device, or measure fewer signals, then try again.");
            }
            try {
                Thread.sleep(50);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                throw gone();
            }
        }
    }

    private byte[] exchange(byte[] packet) {
        boolean first = counter == 0;
        try {
            Xcp.write(out, packet, counter++);
            out.flush();
            byte[] r = Xcp.read(in);
            if (r == null) {
                throw first ? unplugged() : gone();
            }
            return r;
        } catch (SocketTimeoutException e) {
            throw first ? unplugged() : gone();
        } catch (IOException e) {
            throw first ? unplugged() : gone();
        }
    }

    @Override
    public Set<Capability> capabilities() {
        return Set.of(Capability.IDENTIFY, Capability.DEPLOY);
    }

    /** The answer has five fields, separated by semicolons. */
    @Override
    public Identity identify() {
        byte[] r = command(Xcp.GET_ID, 0);
        int length = ByteBuffer.wrap(r).order(ByteOrder.LITTLE_ENDIAN).getInt(4);
        byte[] text = command(Xcp.UPLOAD, Math.clamp(length, 0, 250));
        String[] f = (new String(text, 1, text.length - 1, StandardCharsets.UTF_8) + ";;;; ").split(";");
        return new Identity(f[0], f[1], f[2], f[3].strip(), f[4].strip());
    }

    @Override
    public double roundTrip() {
        double[] seconds = new double[7];
        for (int i = 0; i < seconds.length; i++) {
            long begin = System.nanoTime();
            command(Xcp.GET_STATUS);
            seconds[i] = (System.nanoTime() - begin) / 1e9;
        }
        java.util.Arrays.sort(seconds);
        return seconds[seconds.length / 2];
    }

    @Override
    public void deploy(byte[] image, DoubleConsumer share, BooleanSupplier cancelled) {
        command(Xcp.PROGRAM_START);
        command(ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.PROGRAM_CLEAR).putInt(4, image.length).array());
        command(ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.SET_MTA).putInt(4, 0).array());
        for (int at = 0; at < image.length; at += PIECE) {
            if (cancelled.getAsBoolean()) {
                throw FindingException.of(place, "The download was cancelled.",
                        "Start again. The image on the device is incomplete, so it does not run.");
            }
            int n = Math.min(PIECE, image.length - at);
            command(ByteBuffer.allocate(2 + n).put((byte) Xcp.PROGRAM).put((byte) n).put(image, at, n).array());
            share.accept((at + n) / (double) image.length);
        }
        command(Xcp.PROGRAM, 0);
    }

    /** Has the device compute the CRC-32 (IEEE 802.3) of what it holds, and compares. */
    @Override
    public void verify(byte[] image) {
        command(ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.SET_MTA).putInt(4, 0).array());
        byte[] r = command(ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.BUILD_CHECKSUM).putInt(4, image.length)
                .array());
        var crc = new CRC32();
        crc.update(image);
        if (r.length < 8 || r[1] != Xcp.CRC_32 || ByteBuffer.wrap(r).order(ByteOrder.LITTLE_ENDIAN).getInt(4) != (int) crc.getValue()) {
            throw FindingException.of(place, "Verification failed: the content of the device differs from the download.",
                    "Download again. If it fails again, check the link and the device's flash. The device does not run.");
        }
    }

    @Override
    public void deployed() {
        command(Xcp.PROGRAM_RESET);
    }

    @Override
    public void close() {
        try {
            socket.close();
        } catch (IOException e) {
            Log.ignored(XcpProgrammer.class, e, "The socket cannot be closed.");
        }
    }
}
