package boldanvil.standin.plc;

import boldanvil.core.plc.PlcRuntime;
import boldanvil.core.tags.TagAddress;
import boldanvil.core.user.Log;
import com.digitalpetri.modbus.ExceptionCode;
import com.digitalpetri.modbus.exceptions.ModbusResponseException;
import com.digitalpetri.modbus.pdu.MaskWriteRegisterRequest;
import com.digitalpetri.modbus.pdu.MaskWriteRegisterResponse;
import com.digitalpetri.modbus.pdu.ReadCoilsRequest;
import com.digitalpetri.modbus.pdu.ReadCoilsResponse;
import com.digitalpetri.modbus.pdu.ReadDiscreteInputsRequest;
import com.digitalpetri.modbus.pdu.ReadDiscreteInputsResponse;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersRequest;
import com.digitalpetri.modbus.pdu.ReadHoldingRegistersResponse;
import com.digitalpetri.modbus.pdu.ReadInputRegistersRequest;
import com.digitalpetri.modbus.pdu.ReadInputRegistersResponse;
import com.digitalpetri.modbus.pdu.ReadWriteMultipleRegistersRequest;
import com.digitalpetri.modbus.pdu.ReadWriteMultipleRegistersResponse;
import com.digitalpetri.modbus.pdu.WriteMultipleCoilsRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleCoilsResponse;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersRequest;
import com.digitalpetri.modbus.pdu.WriteMultipleRegistersResponse;
import com.digitalpetri.modbus.pdu.WriteSingleCoilRequest;
import com.digitalpetri.modbus.pdu.WriteSingleCoilResponse;
import com.digitalpetri.modbus.pdu.WriteSingleRegisterRequest;
import com.digitalpetri.modbus.pdu.WriteSingleRegisterResponse;
import com.digitalpetri.modbus.server.ModbusRequestContext;
import com.digitalpetri.modbus.server.ModbusServices;
import com.digitalpetri.modbus.server.ModbusTcpServer;
import com.digitalpetri.modbus.tcp.server.NettyTcpServerTransport;
import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.util.concurrent.ExecutionException;

/**
 * Modbus TCP of the PLC. Coils are the bits of the memory and holding registers its words; discrete inputs are the bits of the inputs, and
 * from 10000 on those of the outputs, input registers their words alike.
 */
final class PlcModbusServer implements AutoCloseable {
    private final PlcDevice device;
    private final int port;
    private final ModbusTcpServer server;
    private final CableGate gate;

    PlcModbusServer(PlcDevice device) throws IOException {
        this.device = device;
        gate = new CableGate(device);
        port = device.settings().modbusPort() == 0 ? free(device.settings().bindAddress()) : device.settings().modbusPort();
        server = ModbusTcpServer.create(NettyTcpServerTransport.create(c -> {
            c.bindAddress = device.settings().bindAddress();
            c.port = port;
            c.pipelineCustomizer = gate::watch;
        }), new Services());
        try {
            server.start();
        } catch (ExecutionException e) {
            throw new IOException("The Modbus port " + port + " cannot be opened: " + e.getCause().getMessage(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** A port that is free now. */
    static int free(String address) throws IOException {
        try (var socket = new ServerSocket(0, 1, InetAddress.getByName(address))) {
            return socket.getLocalPort();
        }
    }

    int port() {
        return port;
    }

    /** Ends all connections, as a pulled cable would. */
    void cut() {
        gate.cut();
    }

    /** What the tables hold. */
    private final class Services implements ModbusServices {
        private final PlcRuntime runtime = device.runtime();

        private static ModbusResponseException refused(int function, ExceptionCode code) {
            return new ModbusResponseException(function, code.getCode());
        }

        private byte[] bits(int function, char area, int first, int count, int most) throws ModbusResponseException {
            if (count < 1 || count > most) {
                throw refused(function, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            try {
                byte[] bytes = runtime.bytes(area, first / 8, (first % 8 + count + 7) / 8);
                byte[] answer = new byte[(count + 7) / 8];
                for (int i = 0; i < count; i++) {
                    int bit = first % 8 + i;
                    answer[i / 8] |= (byte) ((bytes[bit / 8] >> bit % 8 & 1) << i % 8);
                }
                return answer;
            } catch (IndexOutOfBoundsException e) {
                throw refused(function, ExceptionCode.ILLEGAL_DATA_ADDRESS);
            }
        }

        private byte[] words(int function, char area, int first, int count) throws ModbusResponseException {
            if (count < 1 || count > 125) {
                throw refused(function, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            try {
                return swapped(runtime.bytes(area, 2 * first, 2 * count));
            } catch (IndexOutOfBoundsException e) {
                throw refused(function, ExceptionCode.ILLEGAL_DATA_ADDRESS);
            }
        }

        /** The memory has the low byte first, the protocol the high byte. */
        private static byte[] swapped(byte[] bytes) {
            byte[] other = new byte[bytes.length];
            for (int i = 0; i < bytes.length; i++) {
                other[i] = bytes[i ^ 1];
            }
            return other;
        }

        @Override
        public ReadCoilsResponse readCoils(ModbusRequestContext c, int unit, ReadCoilsRequest r) throws ModbusResponseException {
            return new ReadCoilsResponse(bits(1, 'M', r.address(), r.quantity(), 2_000));
        }

        @Override
        public ReadDiscreteInputsResponse readDiscreteInputs(ModbusRequestContext c, int unit, ReadDiscreteInputsRequest r)
                throws ModbusResponseException {
            boolean outputs = r.address() >= TagAddress.OUTPUTS;
            return new ReadDiscreteInputsResponse(bits(2, outputs ? 'Q' : 'I', outputs ? r.address() - TagAddress.OUTPUTS : r.address(),
                    r.quantity(),
                    2_000));
        }

        @Override
        public ReadHoldingRegistersResponse readHoldingRegisters(ModbusRequestContext c, int unit, ReadHoldingRegistersRequest r)
                throws ModbusResponseException {
            return new ReadHoldingRegistersResponse(words(3, 'M', r.address(), r.quantity()));
        }

        @Override
        public ReadInputRegistersResponse readInputRegisters(ModbusRequestContext c, int unit, ReadInputRegistersRequest r)
                throws ModbusResponseException {
            boolean outputs = r.address() >= TagAddress.OUTPUTS;
            return new ReadInputRegistersResponse(words(4, outputs ? 'Q' : 'I', outputs ? r.address() - TagAddress.OUTPUTS : r.address(),
                    r.quantity()));
        }

        private void write(int function, Runnable action) throws ModbusResponseException {
            try {
                action.run();
            } catch (IndexOutOfBoundsException e) {
                throw refused(function, ExceptionCode.ILLEGAL_DATA_ADDRESS);
            }
        }

        @Override
        public WriteSingleCoilResponse writeSingleCoil(ModbusRequestContext c, int unit, WriteSingleCoilRequest r)
                throws ModbusResponseException {
            if (r.value() != 0 && r.value() != 0xFF00) {
                throw refused(5, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            write(5, () -> runtime.writeMemory(r.address(), r.value() != 0));
            return new WriteSingleCoilResponse(r.address(), r.value());
        }

        @Override
        public WriteMultipleCoilsResponse writeMultipleCoils(ModbusRequestContext c, int unit, WriteMultipleCoilsRequest r)
                throws ModbusResponseException {
            if (r.quantity() < 1 || r.quantity() > 1_968 || r.values().length != (r.quantity() + 7) / 8) {
                throw refused(15, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            write(15, () -> {
                runtime.bytes('M', r.address() / 8, (r.address() % 8 + r.quantity() + 7) / 8);
                for (int i = 0; i < r.quantity(); i++) {
                    runtime.writeMemory(r.address() + i, (r.values()[i / 8] >> i % 8 & 1) != 0);
                }
            });
            return new WriteMultipleCoilsResponse(r.address(), r.quantity());
        }

        @Override
        public WriteSingleRegisterResponse writeSingleRegister(ModbusRequestContext c, int unit, WriteSingleRegisterRequest r)
                throws ModbusResponseException {
            write(6, () -> runtime.writeMemory(2 * r.address(), new byte[] {(byte) r.value(), (byte) (r.value() >> 8)}));
            return new WriteSingleRegisterResponse(r.address(), r.value());
        }

        @Override
        public WriteMultipleRegistersResponse writeMultipleRegisters(ModbusRequestContext c, int unit, WriteMultipleRegistersRequest r)
                throws ModbusResponseException {
            if (r.quantity() < 1 || r.quantity() > 123 || r.values().length != 2 * r.quantity()) {
                throw refused(16, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            write(16, () -> runtime.writeMemory(2 * r.address(), swapped(r.values())));
            return new WriteMultipleRegistersResponse(r.address(), r.quantity());
        }

        @Override
        public MaskWriteRegisterResponse maskWriteRegister(ModbusRequestContext c, int unit, MaskWriteRegisterRequest r)
                throws ModbusResponseException {
            byte[] old = words(22, 'M', r.address(), 1);
            int value = (old[0] & 0xFF) << 8 | old[1] & 0xFF;
            int next = value & r.andMask() | r.orMask() & ~r.andMask();
            write(22, () -> runtime.writeMemory(2 * r.address(), new byte[] {(byte) next, (byte) (next >> 8)}));
            return new MaskWriteRegisterResponse(r.address(), r.andMask(), r.orMask());
        }

        @Override
        public ReadWriteMultipleRegistersResponse readWriteMultipleRegisters(ModbusRequestContext c, int unit,
                ReadWriteMultipleRegistersRequest r) throws ModbusResponseException {
            if (r.values().length != 2 * r.writeQuantity() || r.writeQuantity() < 1 || r.writeQuantity() > 121) {
                throw refused(23, ExceptionCode.ILLEGAL_DATA_VALUE);
            }
            write(23, () -> runtime.writeMemory(2 * r.writeAddress(), swapped(r.values())));
            return new ReadWriteMultipleRegistersResponse(words(23, 'M', r.readAddress(), r.readQuantity()));
        }
    }

    @Override
    public void close() {
        cut();
        try {
            server.stop();
        } catch (ExecutionException e) {
            Log.ignored(PlcModbusServer.class, e, "The Modbus server cannot be closed.");
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
