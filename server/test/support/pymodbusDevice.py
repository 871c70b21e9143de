"""A meter made with Debian's pymodbus, which shares no code with Loka: the counterpart of the link tests.

Usage: pymodbusDevice.py tcp|rtu-tcp PORT

Units 1 and 7. The table is made up for the tests (values are written as words, by struct):
  holding 200-201  float32, most significant word first   230.15
  holding 202-203  float32, least significant word first  49.98
  holding 210      int16                                  -432
  holding 211-212  int16 and decimals                     231, 47
  holding 220-223  text                                   "UNIT n"
  input   10-13    uint64                                 9876543210
  coil    5        a relay; discrete 5 follows it not (1)
"""
import asyncio
import struct
import sys

from pymodbus.datastore import ModbusSequentialDataBlock, ModbusServerContext, ModbusSlaveContext
from pymodbus.device import ModbusDeviceIdentification
from pymodbus.transaction import ModbusRtuFramer, ModbusSocketFramer
from pymodbus.server import StartAsyncTcpServer


def words(fmt, value):
    data = struct.pack(">" + fmt, value)
    return [int.from_bytes(data[i:i + 2], "big") for i in range(0, len(data), 2)]


def unit(number):
    holding = [0] * 300
    holding[200:202] = words("f", 230.15)
    holding[202:204] = list(reversed(words("f", 49.98)))
    holding[210:211] = words("h", -432)
    holding[211:213] = [231, 47]
    text = f"UNIT {number}".encode().ljust(8, b"\0")
    holding[220:224] = [int.from_bytes(text[i:i + 2], "big") for i in range(0, 8, 2)]
    inputs = [0] * 50
    inputs[10:14] = words("Q", 9876543210)
    return ModbusSlaveContext(
        di=ModbusSequentialDataBlock(0, [1] * 20),
        co=ModbusSequentialDataBlock(0, [0] * 20),
        hr=ModbusSequentialDataBlock(0, holding),
        ir=ModbusSequentialDataBlock(0, inputs),
        zero_mode=True,
    )


async def main():
    context = ModbusServerContext(slaves={1: unit(1), 7: unit(7)}, single=False)
    identity = ModbusDeviceIdentification()
    identity.VendorName = "Made up"
    identity.ProductCode = "PM"
    identity.MajorMinorRevision = "1.0"
    kind = sys.argv[1]
    print("ready", flush=True)
    framer = ModbusRtuFramer if kind == "rtu-tcp" else ModbusSocketFramer
    await StartAsyncTcpServer(context=context, identity=identity, framer=framer, ignore_missing_slaves=True,
                              address=("127.0.0.1", int(sys.argv[2])))


asyncio.run(main())
