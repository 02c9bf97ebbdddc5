package boldanvil.standin;

import boldanvil.core.control.DeviceFault;
import boldanvil.core.finding.FindingException;
import boldanvil.core.link.xcp.Xcp;
import boldanvil.core.link.xcp.XcpAccess;
import boldanvil.core.user.Log;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.zip.CRC32;

/** The XCP slave of a stand-in's boot loader: says who it is, and takes images. One master at a time. */
final class BootServer implements AutoCloseable {
    private final Device device;
    private final ServerSocket server;
    private final String token;
    private volatile Socket master;
    private XcpLock lock;
    private volatile boolean closed;
    private byte[] upload = new byte[0];
    private int address;
    private boolean programming;

    /** @param token from which the key to programming follows */
    BootServer(Device device, String token) throws IOException {
        this.device = device;
        this.token = token;
        server = new ServerSocket(0, 1, InetAddress.getLoopbackAddress());
        Thread.ofPlatform().daemon().name("boot " + device.board().name()).start(this::accept);
    }

    int port() {
        return server.getLocalPort();
    }

    private void accept() {
        while (!server.isClosed()) {
            try (Socket socket = server.accept()) {
                if (closed) {
                    // Closing a server socket just when it begins to accept lets one more connection through.
                    return;
                }
                master = socket;
                lock = new XcpLock(token);
                socket.setTcpNoDelay(true);
                socket.setSoTimeout(XcpLock.STRANGER_MILLIS);
                serve(new DataInputStream(new BufferedInputStream(socket.getInputStream())),
                        new BufferedOutputStream(socket.getOutputStream()));
            } catch (IOException | RuntimeException e) {
                Log.ignored(BootServer.class, e, "The XCP master disconnected.");
            }
            programming = false;
        }
    }

    private void serve(DataInputStream in, OutputStream out) throws IOException {
        int counter = 0;
        for (byte[] p = Xcp.read(in); p != null; p = Xcp.read(in)) {
            if (device.fault() == DeviceFault.UNPLUGGED) {
                continue;
            }
            byte[] answer = answer(p);
            if (answer == null) {
                return;
            }
            if (lock.isOpen(XcpAccess.PROGRAMMING)) {
                master.setSoTimeout(XcpLock.IDLE_MILLIS);
            }
            Xcp.write(out, answer, counter++);
            out.flush();
        }
    }

    private static byte[] ok(int... bytes) {
        byte[] r = new byte[1 + bytes.length];
        r[0] = (byte) Xcp.RESPONSE;
        for (int i = 0; i < bytes.length; i++) {
            r[1 + i] = (byte) bytes[i];
        }
        return r;
    }

    private static byte[] error(int code) {
        return new byte[] {(byte) Xcp.ERROR, (byte) code};
    }

    /** The answer to a command; null to hang up. */
    private byte[] answer(byte[] p) {
        var b = ByteBuffer.wrap(p).order(ByteOrder.LITTLE_ENDIAN);
        int command = p[0] & 0xFF;
        if (command != Xcp.CONNECT && device.fault() == DeviceFault.BUSY) {
            return error(Xcp.ERR_CMD_BUSY);
        }
        try {
            if (needsKey(command) && !lock.isOpen(XcpAccess.PROGRAMMING)) {
                return error(Xcp.ERR_ACCESS_LOCKED);
            }
            return switch (command) {
                case Xcp.GET_SEED -> lock.seed(p[1] & 0xFF, p[2] & 0xFF, XcpAccess.PROGRAMMING);
                case Xcp.UNLOCK -> lock.unlock(p);
                // Resource: programming; little endian, bytes.
                case Xcp.CONNECT -> ok(0x10, 0, Xcp.MAX_CTO, Xcp.MAX_DTO & 0xFF, Xcp.MAX_DTO >> 8, 1, 1);
                case Xcp.GET_STATUS -> ok(0, lock.locked(XcpAccess.PROGRAMMING), 0, 0, 0);
                case Xcp.GET_ID -> {
                    upload = device.identity().getBytes(StandardCharsets.UTF_8);
                    yield ok(0, 0, 0, upload.length & 0xFF, upload.length >> 8, 0, 0);
                }
                case Xcp.UPLOAD -> {
                    byte[] r = new byte[1 + upload.length];
                    r[0] = (byte) Xcp.RESPONSE;
                    System.arraycopy(upload, 0, r, 1, upload.length);
                    yield r;
                }
                case Xcp.PROGRAM_START -> {
                    device.stop();
                    programming = true;
                    yield ok(0, 0, Xcp.MAX_CTO, 1, 0, 0);
                }
                case Xcp.SET_MTA -> {
                    address = b.getInt(4);
                    yield ok();
                }
                case Xcp.BUILD_CHECKSUM -> checksum(b.getInt(4));
                case Xcp.PROGRAM_CLEAR, Xcp.PROGRAM, Xcp.PROGRAM_RESET -> programming ? program(command, p, b) : error(Xcp.ERR_SEQUENCE);
                default -> error(Xcp.ERR_CMD_UNKNOWN);
            };
        } catch (IndexOutOfBoundsException e) {
            return error(Xcp.ERR_CMD_SYNTAX);
        } catch (FindingException e) {
            return error(command == Xcp.PROGRAM_CLEAR ? Xcp.ERR_MEMORY_OVERFLOW : Xcp.ERR_OUT_OF_RANGE);
        }
    }

    private static boolean needsKey(int command) {
        return switch (command) {
            case Xcp.CONNECT, Xcp.DISCONNECT, Xcp.GET_STATUS, Xcp.GET_SEED, Xcp.UNLOCK -> false;
            default -> true;
        };
    }

    private byte[] program(int command, byte[] p, ByteBuffer b) {
        if (command == Xcp.PROGRAM_CLEAR) {
            device.erase(b.getInt(4));
        } else if (command == Xcp.PROGRAM) {
            int n = p[1] & 0xFF;
            if (n > 0) {
                device.program(address, Arrays.copyOfRange(p, 2, 2 + Math.min(n, p.length - 2)));
                address += n;
                if (device.fault() == DeviceFault.BROWN_OUT && device.isHalfWritten()) {
                    device.brownOut();
                    return null;
                }
            }
        } else {
            programming = false;
        }
        return ok();
    }

    private byte[] checksum(int size) {
        byte[] flash = device.flash();
        if (size < 0 || address < 0 || address + size > flash.length) {
            return error(Xcp.ERR_OUT_OF_RANGE);
        }
        var crc = new CRC32();
        crc.update(flash, address, size);
        return ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN).put((byte) Xcp.RESPONSE).put((byte) Xcp.CRC_32)
                .putInt(4, (int) crc.getValue()).array();
    }

    @Override
    public void close() {
        closed = true;
        try {
            server.close();
            Socket m = master;
            if (m != null) {
                m.close();
            }
        } catch (IOException e) {
            Log.ignored(BootServer.class, e, "The socket cannot be closed.");
        }
    }
}
