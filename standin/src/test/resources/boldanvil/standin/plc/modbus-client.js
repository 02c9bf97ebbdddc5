// Reads and writes registers with a client of another maker; prints what it saw as JSON.
const ModbusRTU = require("modbus-serial");

async function main() {
    const client = new ModbusRTU();
    await client.connectTCP("127.0.0.1", { port: Number(process.argv[2]) });
    client.setID(1);
    client.setTimeout(2000);
    const seen = {};
    const level = (await client.readHoldingRegisters(20, 2)).buffer;
    const words = Buffer.concat([level.subarray(2, 4), level.subarray(0, 2)]);
    seen.level = words.readFloatBE(0);
    await client.writeRegister(5, 4321);
    seen.count = (await client.readHoldingRegisters(5, 1)).data[0];
    await client.writeCoil(19, true);
    seen.coil = (await client.readCoils(19, 1)).data[0];
    await new Promise(r => setTimeout(r, 100));
    seen.lamp = (await client.readDiscreteInputs(10000, 1)).data[0];
    try {
        await client.readHoldingRegisters(60000, 1);
        seen.beyond = "answered";
    } catch (e) {
        seen.beyond = e.modbusCode;
    }
    client.close(() => { });
    console.log("RESULT " + JSON.stringify(seen));
    process.exit(0);
}

main().catch(e => { console.log("FAILED " + e.message); process.exit(1); });
