"""Speed and memory, each figure beside a limit measured in the same run. Run it: ``make
benchmarks``.
"""
