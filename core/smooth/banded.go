package smooth

// banded is the factor LDLᵀ of B = R + λ QᵀW⁻¹Q, symmetric with two bands on
// either side: Q (m×(m-2)) takes second differences, R ((m-2)×(m-2)) has h/3 on
// and h/6 beside its diagonal (Green and Silverman 1994, section 2.1).
type banded struct {
	d, l1, l2 []float64 // D, and the two bands of L below its diagonal
}

func newBanded(h, weight []float64, lambda float64) *banded {
	n := len(h) - 1
	b0, b1, b2 := make([]float64, n), make([]float64, n), make([]float64, n)
	for j := range n {
		// Column j of Q: 1/h_j at knot j, -(1/h_j + 1/h_{j+1}) at j+1, 1/h_{j+1} at j+2.
		p, r := 1/h[j], 1/h[j+1]
		q := -(p + r)
		b0[j] = (h[j]+h[j+1])/3 + lambda*(p*p/weight[j]+q*q/weight[j+1]+r*r/weight[j+2])
		if j+1 < n {
			nextQ := -(1/h[j+1] + 1/h[j+2])
			b1[j] = h[j+1]/6 + lambda*(q*r/weight[j+1]+r*nextQ/weight[j+2])
		}
		if j+2 < n {
			b2[j] = lambda * r * (1 / h[j+2]) / weight[j+2]
		}
	}
	f := &banded{make([]float64, n), make([]float64, n), make([]float64, n)}
	for j := range n {
		d := b0[j]
		if j >= 1 {
			d -= f.l1[j-1] * f.l1[j-1] * f.d[j-1]
		}
		if j >= 2 {
			d -= f.l2[j-2] * f.l2[j-2] * f.d[j-2]
		}
		f.d[j] = d
		if j+1 < n {
			v := b1[j]
			if j >= 1 {
				v -= f.l1[j-1] * f.l2[j-1] * f.d[j-1]
			}
			f.l1[j] = v / d
		}
		if j+2 < n {
			f.l2[j] = b2[j] / d
		}
	}
	return f
}

// solve gives the solution of B x = right.
func (f *banded) solve(right []float64) []float64 {
	n := len(f.d)
	x := make([]float64, n)
	copy(x, right)
	for j := range n {
		if j >= 1 {
			x[j] -= f.l1[j-1] * x[j-1]
		}
		if j >= 2 {
			x[j] -= f.l2[j-2] * x[j-2]
		}
	}
	for j := range x {
		x[j] /= f.d[j]
	}
	for j := n - 1; j >= 0; j-- {
		if j+1 < n {
			x[j] -= f.l1[j] * x[j+1]
		}
		if j+2 < n {
			x[j] -= f.l2[j] * x[j+2]
		}
	}
	return x
}

// inverseBands gives the diagonal of B⁻¹ and the two bands above it: entry j of
// band k is (B⁻¹)_{j,j+k} (Hutchinson and de Hoog 1985, "Smoothing noisy data with
// spline functions", Numerische Mathematik 47).
func (f *banded) inverseBands() (d0, d1, d2 []float64) {
	n := len(f.d)
	d0, d1, d2 = make([]float64, n), make([]float64, n), make([]float64, n)
	at := func(band []float64, j int) float64 {
		if j < n {
			return band[j]
		}
		return 0
	}
	for j := n - 1; j >= 0; j-- {
		l1, l2 := f.l1[j], f.l2[j]
		if j+2 < n {
			d2[j] = -l1*at(d1, j+1) - l2*d0[j+2]
		}
		if j+1 < n {
			d1[j] = -l1*d0[j+1] - l2*at(d1, j+1)
		}
		d0[j] = 1/f.d[j] - l1*d1[j] - l2*d2[j]
	}
	return d0, d1, d2
}
