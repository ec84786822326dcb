package matters_test

import (
	"testing"

	"uvent/store/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }
