package main

import (
	"bufio"
	"errors"
	"os"
	"strconv"
	"strings"
)

// machineMemory returns how many bytes of memory there are: what the control group that the
// process runs in may take, or what the machine has (Linux).
func machineMemory() (int64, error) {
	limited := int64(0)
	if said, err := os.ReadFile("/sys/fs/cgroup/memory.max"); err == nil {
		limited, _ = strconv.ParseInt(strings.TrimSpace(string(said)), 10, 64) // "max" is 0
	}
	f, err := os.Open("/proc/meminfo")
	if err != nil {
		return limited, err
	}
	defer f.Close()
	for lines := bufio.NewScanner(f); lines.Scan(); {
		if fields := strings.Fields(lines.Text()); len(fields) == 3 && fields[0] == "MemTotal:" {
			all, err := strconv.ParseInt(fields[1], 10, 64)
			if all *= 1024; limited > 0 {
				all = min(all, limited)
			}
			return all, err
		}
	}
	return limited, errors.New("the system does not say how much memory there is")
}
