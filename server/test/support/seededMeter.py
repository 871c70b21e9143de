"""A meter of 18 values whose table follows from a seed, made with Debian's pymodbus, which shares no code with Loka.

Usage: seededMeter.py PORT SEED

Prints its table as one line of JSON: the order of words, and for each value name, kind, address, type, factor, quantity,
unit and what it is. Values are written as words by struct.
"""
import asyncio
import json
import random
import struct
import sys

from pymodbus.datastore import ModbusSequentialDataBlock, ModbusServerContext, ModbusSlaveContext
from pymodbus.server import StartAsyncTcpServer

FORMATS = {"float32": "f", "int16": "h", "uint16": "H", "int32": "i", "uint32": "I"}
# Name, quantity, unit, smallest and largest value, factors of whole numbers.
VALUES = [(f"Voltage {l}", "voltage", "V", 215, 245, [0.1, 0.01]) for l in ("L1", "L2", "L3")]
VALUES += [(f"Current {l}", "current", "A", 1, 30, [0.01, 0.001]) for l in ("L1", "L2", "L3")]
VALUES += [(f"Power {l}", "active-power", "W", 100, 7000, [1]) for l in ("L1", "L2", "L3")]
VALUES += [(f"Reactive {l}", "reactive-power", "var", 50, 2000, [1]) for l in ("L1", "L2", "L3")]
VALUES += [(f"Factor {l}", "power-factor", "", 0.4, 1, [0.001]) for l in ("L1", "L2", "L3")]
VALUES += [
    ("Frequency", "frequency", "Hz", 49.9, 50.1, [0.01]),
    ("Cabinet", "temperature", "°C", 15, 40, [0.1]),
    ("Cycles", "other", "", 100, 9000, [1]),
]


def words(fmt, value, low_first):
    data = struct.pack(">" + fmt, value)
    list_ = [int.from_bytes(data[i:i + 2], "big") for i in range(0, len(data), 2)]
    return list_[::-1] if low_first else list_


def table(seed):
    chance = random.Random(seed)
    low_first = chance.random() < 0.5
    kind = chance.choice(["input", "holding"])
    registers = [0] * 2000
    at = chance.randrange(100, 1000)
    rows = []
    for name, quantity, unit, low, high, factors in chance.sample(VALUES, len(VALUES)):
        type_ = chance.choice(list(FORMATS))
        value = chance.uniform(low, high)
        factor = 1 if type_ == "float32" else chance.choice(factors)
        raw = value if type_ == "float32" else round(value / factor)
        own = words(FORMATS[type_], raw, low_first)
        registers[at:at + len(own)] = own
        rows.append({"name": name, "kind": kind, "address": at, "type": type_, "factor": factor,
                     "quantity": quantity, "unit": unit, "value": raw * factor})
        # A table has gaps.
        at += len(own) + chance.choice([0, 0, 0, 1, 4])
    return registers, {"lowFirst": low_first, "kind": kind, "rows": rows}


async def main():
    registers, told = table(int(sys.argv[2]))
    block = ModbusSequentialDataBlock(0, registers)
    empty = ModbusSequentialDataBlock(0, [0] * 2000)
    hr, ir = (block, empty) if told["kind"] == "holding" else (empty, block)
    unit = ModbusSlaveContext(di=empty, co=empty, hr=hr, ir=ir, zero_mode=True)
    print(json.dumps(told), flush=True)
    await StartAsyncTcpServer(context=ModbusServerContext(slaves={3: unit}, single=False),
                              ignore_missing_slaves=True, address=("127.0.0.1", int(sys.argv[1])))


asyncio.run(main())
