package mesh

// halve orders a part so that the lesser half by a key comes first, equal keys by
// their index: what a tree needs of a sort, in a time that grows with the number
// (Hoare 1961).
func halve(part []int32, key func(int32) float64) {
	less := func(a, b int32) bool {
		x, y := key(a), key(b)
		return x < y || x == y && a < b
	}
	low, high, half := 0, len(part)-1, len(part)/2
	for low < high {
		middle := low + (high-low)/2
		if less(part[middle], part[low]) {
			part[middle], part[low] = part[low], part[middle]
		}
		if less(part[high], part[low]) {
			part[high], part[low] = part[low], part[high]
		}
		if less(part[high], part[middle]) {
			part[high], part[middle] = part[middle], part[high]
		}
		pivot := part[middle]
		i, j := low, high
		for i <= j {
			for less(part[i], pivot) {
				i++
			}
			for less(pivot, part[j]) {
				j--
			}
			if i <= j {
				part[i], part[j] = part[j], part[i]
				i, j = i+1, j-1
			}
		}
		switch {
		case half <= j:
			high = j
		case half >= i:
			low = i
		default:
			return
		}
	}
}
